import { Button } from 'antd';
import type { Schema } from '../api/client';
import { AskText } from '../pieces/AskText';
import { counted } from '../pieces/format';
import { sendChange, useStepChange } from './useSteps';
import ui from '../pieces/ui.module.css';

/** What can be done with several steps at once. */
export function PickedSteps({ ids, clear }: { ids: ReadonlySet<number>; clear: () => void }) {
  const change = useStepChange();
  const changed = (r: Schema['ChangedSteps']) => {
    clear();
    return `${counted(r.steps, 'step')} changed.`;
  };
  return (
    <div className={`${ui.says} ${ui.picked}`}>
      <b>{counted(ids.size, 'step')} picked</b>
      {(['inProgress', 'inReview', 'done', 'toDo'] as const).map((status) => (
        <Button key={status} size="small" onClick={() => change.mutate({ ids: [...ids], status })}>
          {{ inProgress: 'In progress', inReview: 'In review', done: 'Done', toDo: 'To do' }[status]}
        </Button>
      ))}
      <AskText
        label="Owner"
        placeholder="a name"
        act="Assign"
        change={(owner) => sendChange({ ids: [...ids], owner })}
        done={changed}
      >
        <Button size="small">Assign</Button>
      </AskText>
      <AskText
        label="Due date"
        placeholder="2026-12-31"
        act="Set"
        change={(due) => sendChange({ ids: [...ids], due })}
        done={changed}
      >
        <Button size="small">Due</Button>
      </AskText>
      <AskText
        label="Why are they dropped?"
        placeholder="the reason"
        act="Drop"
        change={(reason) => sendChange({ ids: [...ids], status: 'dropped', reason })}
        done={changed}
      >
        <Button size="small">Drop</Button>
      </AskText>
      <Button size="small" type="text" onClick={() => clear()}>
        Clear selection
      </Button>
    </div>
  );
}
