import type { Schema } from '../api/client';
import { shortUrl } from '../pieces/format';
import styles from './plan.module.css';
import ui from '../pieces/ui.module.css';

/** A link that is missing, with the passage that has the words. */
export function MissingLink({ link, host }: { link: Schema['MissingLinkRow']; host: string | undefined }) {
  const end = link.start + link.words.length;
  return (
    <div className={styles.link}>
      <span />
      <div>
        <b>{shortUrl(link.sourceUrl, host)}</b> <span className={ui.quiet}>should link to</span>{' '}
        <b>{shortUrl(link.targetUrl, host)}</b> <span className={ui.quiet}>({link.says})</span>
        {link.hasStep && <span className={ui.second}> in the plan</span>}
        {link.passage && (
          <p className={ui.second}>
            {link.words ? (
              <>
                {link.passage.slice(0, link.start)}
                <mark>{link.passage.slice(link.start, end)}</mark>
                {link.passage.slice(end)}
              </>
            ) : (
              link.passage
            )}
          </p>
        )}
        {link.advice && <p className={ui.quiet}>{link.advice}</p>}
      </div>
    </div>
  );
}
