import '@fontsource-variable/source-sans-3';
import '@fontsource-variable/source-serif-4';
import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { App as AntApp, ConfigProvider } from 'antd';
import { StrictMode, useLayoutEffect, useState } from 'react';
import { createRoot } from 'react-dom/client';
import { BrowserRouter } from 'react-router';
import './app/base.css';
import { rowHeights, useIsDark, usePreferences } from './app/preferences';
import { base, isProjectsPage } from './api/base';
import { loadSession } from './api/client';
import { loadWords } from './api/words';
import { Shell } from './app/Shell';
import { ProjectsScreen } from './projects/ProjectsScreen';
import { antTheme, applyTokens } from './app/theme';
import { session, useSession } from './team/session';
import { SignInAgain, SignInScreen } from './team/SignIn';
import { WriterScreen } from './team/WriterScreen';

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
          <BrowserRouter basename={base}>
            <Home />
          </BrowserRouter>
        </QueryClientProvider>
      </AntApp>
    </ConfigProvider>
  );
}

/** What is shown first: to sign in where one has to, their briefs to writers, and to everybody else the project or the list of them. */
function Home() {
  const { hasSignIn, user } = useSession();
  const [first] = useState(user);
  if (!first && hasSignIn) return <SignInScreen />;
  return (
    <>
      {first?.role === 'writer' ? <WriterScreen /> : isProjectsPage ? <ProjectsScreen /> : <Shell />}
      {first && (
        <SignInAgain
          name={first.name}
          done={() => {
            // What somebody else or another role sees may differ.
            const now = session().user;
            if (now?.name !== first.name || now.role !== first.role) window.location.reload();
            else void queries.invalidateQueries();
          }}
        />
      )}
    </>
  );
}

const show = () =>
  createRoot(document.getElementById('root')!).render(
    <StrictMode>
      <Root />
    </StrictMode>,
  );
// Where the server does not answer, the first screen says so.
void Promise.allSettled([loadSession(), loadWords()]).then(show);
