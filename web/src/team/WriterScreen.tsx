import { useQuery } from '@tanstack/react-query';
import { useEffect } from 'react';
import { answer, listApi } from '../api/client';
import { keyOf } from '../api/keys';
import { useLastAction } from '../app/lastAction';
import { day, number } from '../pieces/format';
import { Failed, NotYet, Reading } from '../pieces/States';
import { UserMenu } from './UserMenu';
import shell from '../app/shell.module.css';
import styles from './team.module.css';
import ui from '../pieces/ui.module.css';

/** What a writer sees: the briefs on which they are named, of all projects. */
export function WriterScreen() {
  const briefs = useQuery({
    queryKey: keyOf('my briefs'),
    queryFn: () => answer(listApi.GET('/api/my-briefs')),
    refetchInterval: 60_000,
  });
  const last = useLastAction();
  useEffect(() => {
    document.title = 'Your briefs · Jade Orchard';
  }, []);
  return (
    <div className={shell.shell}>
      <header className={shell.top}>
        <span className={shell.name}>Jade Orchard</span>
        <span className={ui.gap} />
        <a className={shell.soft} href="/guide" target="_blank" rel="noreferrer">
          Guide
        </a>
        <UserMenu />
      </header>
      <main className={styles.briefs}>
        <h1>Your briefs</h1>
        <p role="status">{last?.text}</p>
        {briefs.isError && !briefs.data ? (
          <Failed error={briefs.error} retry={() => void briefs.refetch()} />
        ) : !briefs.data ? (
          <Reading />
        ) : briefs.data.length === 0 ? (
          <NotYet title="No brief for you yet">
            <p>Briefs on which a planner names you as the writer are listed here.</p>
          </NotYet>
        ) : (
          <table className={ui.facts}>
            <thead>
              <tr>
                <th>Brief</th>
                <th>For</th>
                <th className={ui.num}>Words</th>
                <th>State</th>
                <th>Due</th>
              </tr>
            </thead>
            <tbody>
              {briefs.data.map((brief) => (
                <tr key={brief.page}>
                  <td>
                    <a href={brief.page}>{brief.primary}</a>
                    <div className={ui.quiet}>{brief.url}</div>
                  </td>
                  <td>{brief.projectName}</td>
                  <td className={ui.num}>{brief.words === null ? '–' : number(brief.words)}</td>
                  <td>{brief.state}</td>
                  <td>{brief.due ? day(brief.due) : ''}</td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
      </main>
    </div>
  );
}
