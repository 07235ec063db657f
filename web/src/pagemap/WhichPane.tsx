import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { answer, api } from '../api/client';
import { keyOf } from '../api/keys';
import { decimal, shortUrl } from '../pieces/format';
import { Failed, Reading } from '../pieces/States';
import ui from '../pieces/ui.module.css';

/** Which of the site's pages a phrase is for, captured or not. */
export function WhichPane({ phrase, host, close }: { phrase: string; host: string | undefined; close: () => void }) {
  const which = useQuery({
    queryKey: keyOf('which', phrase),
    queryFn: () => answer(api.GET('/api/which', { params: { query: { phrase } } })),
  });
  return (
    <>
      <h2>Which page is “{phrase}” for?</h2>
      {which.isError ? (
        <Failed error={which.error} retry={() => void which.refetch()} />
      ) : !which.data ? (
        <Reading />
      ) : which.data.pages.length === 0 ? (
        <p>No page of the site is about this.</p>
      ) : (
        which.data.pages.map((page) => (
          <div key={page.pageId} className={ui.candidate}>
            <div className={ui.line}>
              <Link to={`/site?id=${page.pageId}`}>{shortUrl(page.url, host)}</Link>
              <b title="Strength, of 100">{decimal(page.strength, 0)}</b>
            </div>
            <div className={ui.quiet}>{page.facts.join(' · ')}</div>
          </div>
        ))
      )}
      <p className={ui.quiet}>By the words of the pages and by search performance; nothing was captured for it.</p>
      <div className={ui.acts}>
        {which.data?.cluster != null && <Link to={`/clusters?id=${which.data.cluster}`}>Open its cluster</Link>}
        <button className={ui.chip} onClick={close}>
          close
        </button>
      </div>
    </>
  );
}
