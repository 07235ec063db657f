import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { answer, api, type Schema } from '../api/client';
import { useProject } from '../api/hooks';
import { keyOf } from '../api/keys';
import { useKeyHelp } from '../app/keys';
import { number } from '../pieces/format';
import { Failed, NotYet, Reading } from '../pieces/States';
import { Stage } from '../pieces/Stage';
import { useListState } from '../pieces/useListState';
import { Decide } from './ConflictDecide';
import { SideBySide } from './ConflictParts';

export type View = Schema['ConflictView'];

export type Decision = Schema['ConflictDecision'];

const help = [{ keys: '1 to 7', does: 'choose a decision' }];

/** One conflict: its pages side by side, so that the planner can decide. */
export function ConflictScreen() {
  const list = useListState();
  const host = useProject().data?.project.host;
  const key = list.text('key');
  useKeyHelp(help);
  const conflict = useQuery({
    queryKey: keyOf('conflict', key),
    enabled: key !== undefined,
    queryFn: () => answer(api.GET('/api/conflicts/{key}', { params: { path: { key: key! } } })),
  });
  if (key === undefined)
    return (
      <NotYet title="No conflict is chosen">
        <Link to="/findings">Back to the findings</Link>
      </NotYet>
    );
  if (conflict.isError) return <Failed error={conflict.error} retry={() => void conflict.refetch()} />;
  if (!conflict.data) return <Reading />;
  const view = conflict.data;
  return (
    <Stage
      work={<SideBySide view={view} host={host} />}
      pane={<Decide key={key} view={view} host={host} />}
      tally={
        <span>
          at stake: about <b>{number(view.finding.atStake)}</b> clicks a month
          {view.performanceDays > 0 && `; clicks and impressions are of ${view.performanceDays} days, counted`}
        </span>
      }
    />
  );
}
