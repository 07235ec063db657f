import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { answer, api } from '../api/client';
import { useReplay } from '../api/hooks';
import { keyOf } from '../api/keys';
import { counted, moment } from '../pieces/format';
import { Failed, Reading } from '../pieces/States';
import ui from '../pieces/ui.module.css';

/** Steps that are shown at once, around the one that is undone next. */
const shownAtOnce = 200;

/** What was done, newest first; each step can be undone after those above it. */
export function HistoryList() {
  const history = useQuery({ queryKey: keyOf('history'), queryFn: () => answer(api.GET('/api/history')) });
  const { dropped } =
    useQuery({ queryKey: keyOf('history', 'dropped'), queryFn: () => answer(api.GET('/api/history/dropped')) }).data ??
    {};
  const [showAll, setShowAll] = useState(false);
  const undo = useReplay('undo');
  const redo = useReplay('redo');
  if (history.isError) return <Failed error={history.error} retry={() => void history.refetch()} />;
  if (!history.data) return <Reading />;
  if (history.data.length === 0) return <p>Nothing to undo yet.</p>;
  const nextToUndo = history.data.find((step) => !step.isUndone)?.id;
  const nextToRedo = history.data.findLast((step) => step.isUndone)?.id;
  const undone = history.data.findIndex((step) => !step.isUndone);
  const from = Math.max(0, (undone < 0 ? history.data.length : undone) - shownAtOnce / 2);
  const steps = showAll ? history.data : history.data.slice(from, from + shownAtOnce);
  return (
    <>
      <table className={ui.facts}>
        <tbody>
          {steps.map((step) => (
            <tr key={step.id}>
              <td>
                <div className={step.isUndone ? ui.quiet : undefined}>
                  {step.label}
                  {step.isUndone && (step.replayedBy ? ` (undone by ${step.replayedBy})` : ' (undone)')}
                  {step.isOpen && ' (under way)'}
                </div>
                <div className={ui.quiet}>
                  {step.author && `${step.author}, `}
                  {moment(step.madeAt)}
                </div>
              </td>
              <td className={ui.num}>
                {step.id === nextToUndo && !step.isOpen && (
                  <button className={ui.chip} disabled={undo.isPending} onClick={() => undo.mutate(undefined)}>
                    undo
                  </button>
                )}
                {step.id === nextToRedo && (
                  <button className={ui.chip} disabled={redo.isPending} onClick={() => redo.mutate(undefined)}>
                    redo
                  </button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {steps.length < history.data.length && (
        <button className={ui.chip} onClick={() => setShowAll(true)}>
          show all {counted(history.data.length, 'step')}
        </button>
      )}
      {dropped && (
        <p className={ui.quiet}>
          {counted(dropped.count, 'older step')} can no longer be undone: the history had grown too long or too large.
          The last went {moment(dropped.at)}.
        </p>
      )}
    </>
  );
}
