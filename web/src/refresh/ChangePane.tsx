import { useQuery } from '@tanstack/react-query';
import { Button } from 'antd';
import { Link } from 'react-router';
import { answer, api, type Schema } from '../api/client';
import { useChange } from '../api/hooks';
import { changeEvidence } from '../api/evidence';
import { day, sentenceCase, shortUrl } from '../pieces/format';
import { Lines } from '../pieces/Lines';
import { Failed, Reading } from '../pieces/States';
import { courseWeeks } from './weeks';
import { SpanTable } from './SpanTable';
import ui from '../pieces/ui.module.css';

const sources: Record<Schema['ChangeSource'], string> = {
  scan: 'a scan saw it',
  step: 'a step of the plan',
  entered: 'entered',
};

/** One change of a page: what was changed, and what the page got with it and would have got without. */
export function ChangePane({ pageId, day: on, host }: { pageId: number; day: string; host: string | undefined }) {
  const detail = useQuery(changeEvidence(pageId, on));
  const remove = useChange(
    (id: number) => answer(api.DELETE('/api/changes/entered/{id}', { params: { path: { id } } })),
    () => 'Removed.',
  );
  if (detail.isError) return <Failed error={detail.error} retry={() => void detail.refetch()} />;
  if (!detail.data) return <Reading />;
  const { change, changes, before, after, course } = detail.data;
  const weekly = courseWeeks(course, change.day);
  const some = changes.filter((c) => c.before.length + c.after.length > 0);
  return (
    <>
      <h2 className={ui.wrap}>{shortUrl(change.url, host)}</h2>
      <p>
        {change.title ?? 'Its title is not known.'}
        <br />
        <Link to={`/refresh?id=${pageId}`}>The page</Link>
      </p>
      <p>
        <b>{change.effect ? change.effect.says : 'It is being measured.'}</b>
      </p>
      {weekly.some((w) => w.clicks !== null) && (
        <Lines
          title="Clicks a week; dashed: what the page would have got without the change, as pages tell that did not change"
          series={[
            { name: 'with the change', points: weekly.map((w) => ({ day: w.day, value: w.clicks })) },
            { name: 'without it', points: weekly.map((w) => ({ day: w.day, value: w.expected })) },
          ]}
          events={[{ day: change.day, says: change.kinds.join(', ') }]}
        />
      )}
      {before && after && (
        <>
          <h3>28 days before, and {change.effect?.days ?? 0} days after</h3>
          <SpanTable now={after} before={before} names={['After', 'Before']} />
        </>
      )}
      {change.effect && change.effect.controls > 0 && (
        <p className={ui.quiet}>
          Compared with {change.effect.controls} pages with a similar course that did not change at the time. The
          interval comes from how far such pages miss by themselves.
        </p>
      )}
      <hr />
      <h2>What was changed</h2>
      {change.day !== change.lastDay && (
        <p>
          From {day(change.day)} to {day(change.lastDay)}. Changes less than 14 days apart are looked at as one.
        </p>
      )}
      {some.length === 0 && <p>No further details.</p>}
      {some.map((c, i) => (
        <section key={i}>
          <h3>
            {sentenceCase(c.name)}, {day(c.day)}: {sources[c.source]}{' '}
            {c.stepId && <Link to={`/plan?id=${c.stepId}&status=any`}>Open the step</Link>}
          </h3>
          {c.before.map((line) => (
            <p key={`-${line}`} className={ui.wrap}>
              <del>{line}</del>
            </p>
          ))}
          {c.after.map((line) => (
            <p key={`+${line}`} className={ui.wrap}>
              {c.source === 'scan' ? <ins>{line}</ins> : line}
            </p>
          ))}
        </section>
      ))}
      {changes.map(
        (c) =>
          c.enteredId !== null && (
            <div className={ui.acts} key={c.enteredId}>
              <Button loading={remove.isPending} onClick={() => remove.mutate(c.enteredId!)}>
                Remove the entry of {day(c.day)}
              </Button>
            </div>
          ),
      )}
    </>
  );
}
