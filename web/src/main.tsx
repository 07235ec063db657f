import '@fontsource-variable/source-sans-3';
import '@fontsource-variable/source-serif-4';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { App as AntApp, ConfigProvider } from 'antd';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { BrowserRouter } from 'react-router';
import { antTheme, applyTokens } from './app/theme';
import './app/look.css';
import { Shell } from './app/Shell';

applyTokens();
const queries = new QueryClient({
  defaultOptions: { queries: { staleTime: 15_000, retry: 1, refetchOnWindowFocus: false } },
});

createRoot(document.getElementById('root')!).render(
  <StrictMode>
    <ConfigProvider theme={antTheme}>
      <AntApp message={{ maxCount: 3 }}>
        <QueryClientProvider client={queries}>
          <BrowserRouter>
            <Shell />
          </BrowserRouter>
        </QueryClientProvider>
      </AntApp>
    </ConfigProvider>
  </StrictMode>,
);
