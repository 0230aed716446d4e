import { Link } from '@/ui/components/Link';

export default function NotFound() {
  return (
    <main className="work">
      <div className="empty">
        <h1>There is no such page</h1>
        <p className="quiet" style={{ margin: '8px 0 14px' }}>
          The address is misspelt, or the page has moved. The workspaces above lead everywhere; Ctrl+K goes to any
          device, port or serial.
        </p>
        <Link href="/today">To Today</Link>
      </div>
    </main>
  );
}
