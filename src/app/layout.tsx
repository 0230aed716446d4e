import { AppRouterCacheProvider } from '@mui/material-nextjs/v16-appRouter';
import type { Metadata } from 'next';
import { cookies, headers } from 'next/headers';
import type { ReactNode } from 'react';
import '@fontsource-variable/archivo/wdth.css';
import '@fontsource-variable/jetbrains-mono/index.css';
import '@/ui/theme/tokens.css';
import { Providers } from '@/ui/frame/Providers';
import { ThemeRegistry } from '@/ui/theme/ThemeRegistry';

export const metadata: Metadata = { title: { default: 'Bolide', template: '%s · Bolide' } };

export default async function RootLayout({ children }: { children: ReactNode }) {
  const nonce = (await headers()).get('x-nonce') ?? undefined;
  const chosen = (await cookies()).get('bolide-theme')?.value;
  const theme = chosen === 'night' || chosen === 'day' ? chosen : null;
  return (
    <html lang="en" data-theme={theme ?? 'day'} suppressHydrationWarning>
      <body>
        <AppRouterCacheProvider options={{ key: 'bolide', enableCssLayer: true, ...(nonce && { nonce }) }}>
          <ThemeRegistry initial={theme}>
            <Providers>{children}</Providers>
          </ThemeRegistry>
        </AppRouterCacheProvider>
      </body>
    </html>
  );
}
