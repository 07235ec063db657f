import { Button } from 'antd';
import { useState } from 'react';
import { type Schema } from '../api/client';
import { counted, decimal, number, percent, shortUrl } from '../pieces/format';
import ui from '../pieces/ui.module.css';

export function Candidate({
  place,
  candidate,
  host,
  performanceDays,
  chosen,
  assign,
}: {
  place: number;
  candidate: Schema['CandidateView'];
  host: string | undefined;
  performanceDays: number;
  chosen: boolean;
  assign: (pageId: number) => void;
}) {
  const { page, standings, seenFor, keywords, notMentioned, notMentionedCount } = candidate;
  const [open, setOpen] = useState(place === 1);
  return (
    <div className={chosen ? `${ui.candidate} ${ui.chosen}` : ui.candidate}>
      <div className={ui.line}>
        <kbd>{place}</kbd>
        <span className={ui.url}>
          <b>{shortUrl(page.url, host)}</b>
          <div className={ui.second}>{page.title ?? 'title not known'}</div>
        </span>
        <span title="Strength, 0 to 100">
          <span className={ui.bar} style={{ width: page.strength * 0.4 }} /> <b>{decimal(page.strength, 0)}</b>
        </span>
        {chosen ? (
          <span className={ui.second}>chosen</span>
        ) : (
          <Button size="small" onClick={() => assign(page.pageId)} aria-label={`Choose ${page.url}`}>
            Choose
          </Button>
        )}
      </div>
      {candidate.caution && <div className={ui.clay}>{candidate.caution}</div>}
      {page.assignedTo && <div className={ui.clay}>Already the page of “{page.assignedTo}”.</div>}
      <div className={ui.why}>
        results{' '}
        {page.results === null
          ? 'not captured'
          : `${percent(page.results)} of what position 1 would bring, in ${seenFor} of ${keywords} lists`}{' '}
        · performance{' '}
        {performanceDays === 0
          ? 'not brought yet'
          : page.performance === null
            ? 'none for these queries'
            : `${percent(page.performance)}, ${counted(candidate.clicks, 'click')} of ${number(candidate.impressions)} impressions in ${performanceDays} days`}{' '}
        · text {page.text === null ? 'not known' : percent(page.text)}
        {page.text !== null && !candidate.isRead && ', without its main text'}{' '}
        <button className={ui.chip} aria-expanded={open} onClick={() => setOpen(!open)}>
          {open ? 'less' : 'facts'}
        </button>
        {open && standings.length > 0 && (
          <table className={ui.facts}>
            <thead>
              <tr>
                <th>Keyword</th>
                <th className={ui.num}>Volume, est.</th>
                <th className={ui.num} title="In the newest result list">
                  Position
                </th>
                {performanceDays > 0 && <th className={ui.num}>Clicks</th>}
              </tr>
            </thead>
            <tbody>
              {standings.map((s) => (
                <tr key={s.keyword}>
                  <td>{s.keyword}</td>
                  <td className={ui.num}>{number(s.volume)}</td>
                  <td className={ui.num}>
                    {s.position || (s.averagePosition === null ? '–' : `avg. ${decimal(s.averagePosition, 1)}`)}
                  </td>
                  {performanceDays > 0 && <td className={ui.num}>{number(s.clicks)}</td>}
                </tr>
              ))}
            </tbody>
          </table>
        )}
        {open && notMentionedCount > 0 && (
          <div>
            {candidate.isRead ? 'It does not' : 'Its title, headings and address do not'} mention all words of{' '}
            {counted(notMentionedCount, 'keyword')}: {notMentioned.join(', ')}
            {notMentionedCount > notMentioned.length && ' …'}
          </div>
        )}
      </div>
    </div>
  );
}
