import { openApi } from '@/server/api/openApi';
import { allRoutes } from '@/server/api/routes';

export const metadata = { title: 'API' };

/** The API in words, made from its own description. */
export default function ApiPage() {
  const { info, paths } = openApi(allRoutes);
  const operations = Object.entries(
    paths as Record<
      string,
      Record<
        string,
        {
          summary: string;
          parameters?: { name: string; description?: string }[];
          responses: Record<string, { description: string }>;
        }
      >
    >,
  );
  return (
    <main style={{ maxWidth: 900, margin: '0 auto', padding: '28px 24px' }}>
      <h1>{info.title} API</h1>
      <p className="quiet">
        {info.description} Send a token as <span className="mono">Authorization: Bearer …</span>. The description for
        programs is at <a href="/api/v1/openapi.json">/api/v1/openapi.json</a>. Errors are problem documents (RFC 9457).
      </p>
      {operations.map(([path, methods]) =>
        Object.entries(methods).map(([method, operation]) => (
          <section key={`${method} ${path}`} className="section">
            <h2 className="mono" style={{ fontSize: 14 }}>
              {method.toUpperCase()} /api/v1{path}
            </h2>
            <p>{operation.summary}</p>
            {operation.parameters && (
              <p className="small quiet">
                {operation.parameters
                  .map(({ name, description }) => `${name}${description ? `: ${description}` : ''}`)
                  .join(' · ')}
              </p>
            )}
            <p className="small quiet">{operation.responses['200']?.description}</p>
          </section>
        )),
      )}
    </main>
  );
}
