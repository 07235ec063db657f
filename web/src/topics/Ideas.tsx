import { useQuery } from '@tanstack/react-query';
import { Button } from 'antd';
import { useState } from 'react';
import { Link } from 'react-router';
import { answer, api, type Schema } from '../api/client';
import { hasEnded, useChange, useJob } from '../api/hooks';
import { keyOf } from '../api/keys';
import { counted, number, shortUrl } from '../pieces/format';
import { JobProgress } from '../pieces/JobProgress';
import { SaveHeading } from '../pieces/SaveHeading';
import ui from '../pieces/ui.module.css';
import styles from './topics.module.css';

/** What rivals' ranking pages in a topic are about that the site's are not. */
export function Ideas({ topic }: { topic: Schema['TopicRow'] }) {
  const [jobId, setJobId] = useState<number>();
  const job = useJob(jobId).data;
  const ideas = useQuery({
    queryKey: keyOf('topic', topic.id, 'ideas'),
    queryFn: () => answer(api.GET('/api/topics/{id}/ideas', { params: { path: { id: topic.id } } })),
  });
  const read = useChange(async () => {
    const started = await answer(api.POST('/api/topics/{id}/read', { params: { path: { id: topic.id } } }));
    setJobId(started.id);
    return started;
  });
  const add = useChange(
    (phrase: string) =>
      answer(
        api.POST('/api/topics/{id}/subtopics', {
          params: { path: { id: topic.id } },
          body: { phrase, note: 'rivals have it' },
        }),
      ),
    () => 'Added to the outline. It waits for keywords.',
  );
  const running = jobId !== undefined && !hasEnded(job);
  if (!ideas.data) return null;
  const { ranking, read: pages, failed, ownPages, ideas: rows } = ideas.data;
  const unread = ranking - pages;
  return (
    <>
      <h2>What rivals have</h2>
      <p>
        {ranking === 0
          ? 'No page of another site ranks for this topic.'
          : pages === 0
            ? `Searchers are led to ${counted(ranking, 'page')} of others most. Read their headings to see what they are about that yours are not.`
            : `Headings of ${counted(pages - failed, 'page')} of others, compared with ${ownPages === 0 ? 'none of your own, since no page is assigned' : `those of ${counted(ownPages, 'page')} of your own`}.`}
        {failed > 0 && ` ${counted(failed, 'page')} couldn’t be read.`}
      </p>
      {unread > 0 && (
        <div className={ui.acts}>
          <Button loading={read.isPending || running} onClick={() => read.mutate(undefined)}>
            Read {counted(unread, 'page')} of others
          </Button>
        </div>
      )}
      {jobId !== undefined && <JobProgress jobId={jobId} />}
      {pages - failed > 0 && rows.length === 0 && <p>Their headings share nothing that yours lack.</p>}
      {rows.length > 0 && (
        <table className={`${ui.facts} ${styles.ideas}`}>
          <thead>
            <tr>
              <th>In their headings, not in yours</th>
              <th className={ui.num} title="Sites that have it">
                Sites
              </th>
              <th className={ui.num} title="Pages that have it">
                Pages
              </th>
              <th className={ui.num} title="Volume of the keyword that says it, where one is known">
                Demand
              </th>
              <th aria-label="Add" />
            </tr>
          </thead>
          <tbody>
            {rows.map((idea) => (
              <tr key={idea.phrase}>
                <td>
                  <details>
                    <summary>{idea.phrase}</summary>
                    {idea.examples.map((example) => (
                      <div key={example.url} className={ui.second}>
                        “{example.heading}” on {shortUrl(example.url, undefined)}
                      </div>
                    ))}
                    {idea.clusterId && (
                      <div>
                        <Link to={`/clusters?id=${idea.clusterId}`}>its cluster</Link>
                      </div>
                    )}
                  </details>
                </td>
                <td className={ui.num}>{number(idea.sites)}</td>
                <td className={ui.num}>{number(idea.pages)}</td>
                <td className={ui.num}>
                  {idea.demand === null ? <span className={ui.quiet}>not known</span> : number(idea.demand)}
                </td>
                <td>
                  <button className={ui.chip} aria-label={`Add ${idea.phrase}`} onClick={() => add.mutate(idea.phrase)}>
                    add
                  </button>{' '}
                  <SaveHeading heading={idea.examples[0]?.heading ?? idea.phrase} of={{ topicId: topic.id }} />
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </>
  );
}
