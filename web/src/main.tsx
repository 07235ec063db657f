import '@fontsource-variable/source-sans-3';
import '@fontsource-variable/source-serif-4';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { App as AntApp, ConfigProvider } from 'antd';
import { StrictMode, useLayoutEffect } from 'react';
import { createRoot } from 'react-dom/client';
import { BrowserRouter } from 'react-router';
import './app/base.css';
import { rowHeights, useIsDark, usePreferences } from './app/preferences';
import { base, isProjectsPage } from './api/base';
import { loadWords } from './api/words';
import { Shell } from './app/Shell';
import { ProjectsScreen } from './projects/ProjectsScreen';
import { antTheme, applyTokens } from './app/theme';

const queries = new QueryClient({
  defaultOptions: { queries: { staleTime: 15_000, retry: 1, refetchOnWindowFocus: false } },
});

/** Everything, in the colours and the density that the planner prefers. */
function Root() {
  const isDark = useIsDark();
  const { density } = usePreferences();
  useLayoutEffect(() => applyTokens(isDark), [isDark]);
  useLayoutEffect(() => document.documentElement.style.setProperty('--row', `${rowHeights[density]}px`), [density]);
  return (
    <ConfigProvider theme={antTheme(isDark)}>
      <AntApp>
        <QueryClientProvider client={queries}>
          <BrowserRouter basename={base}>{isProjectsPage ? <ProjectsScreen /> : <Shell />}</BrowserRouter>
        </QueryClientProvider>
      </AntApp>
    </ConfigProvider>
  );
}

const show = () =>
  createRoot(document.getElementById('root')!).render(
    <StrictMode>
      <Root />
    </StrictMode>,
  );
// Where the server does not answer, the first screen says so.
void loadWords().then(show, show);
