import '@fontsource-variable/commissioner';
import '@fontsource-variable/sometype-mono';
import './globals.css';
import InitColorSchemeScript from '@mui/material/InitColorSchemeScript';
import { AppRouterCacheProvider } from '@mui/material-nextjs/v16-appRouter';
import type { Metadata } from 'next';
import type { ReactNode } from 'react';
import { Frame } from '../frame/Frame';
import { Theme } from './theme';

export const metadata: Metadata = {
  title: 'Jump Reed',
  description: 'Sizes a switching converter and shows its waveforms, loop, losses, heat and margins at every corner.',
};

export default function Layout({ children }: { children: ReactNode }) {
  return (
    <html lang="en" suppressHydrationWarning>
      <body>
        <InitColorSchemeScript attribute="data-theme" defaultMode="light" />
        <AppRouterCacheProvider options={{ enableCssLayer: true }}>
          <Theme>
            <Frame>{children}</Frame>
          </Theme>
        </AppRouterCacheProvider>
      </body>
    </html>
  );
}
