import { Button } from 'antd';
import type { Schema } from '../api/client';
import { useChange } from '../api/hooks';
import { AskText } from '../pieces/AskText';
import { counted } from '../pieces/format';
import type { Finding } from './says';
import { decideFindings } from './useFindings';
import ui from '../pieces/ui.module.css';

/** What can be done with several findings at once. */
export function PickedFindings({ ids, clear }: { ids: ReadonlySet<string>; clear: () => void }) {
  const selection: Schema['FindingSelection'] = { keys: [...ids], filter: null, search: null };
  const change = (what: Parameters<typeof decideFindings>[1]) => decideFindings(selection, what);
  const changed = (result: Schema['ChangedFindings']) => {
    clear();
    return `${counted(result.findings, 'finding')} changed.`;
  };
  const setState = useChange((next: Finding['state']) => change({ state: next }), changed);
  return (
    <div className={`${ui.says} ${ui.picked}`}>
      <b>{counted(ids.size, 'finding')} picked</b>
      <Button size="small" onClick={() => setState.mutate('accepted')}>
        Accept
      </Button>
      <AskText
        label="Why are they left as they are?"
        placeholder="the reason"
        act="Dismiss"
        change={(reason) => change({ state: 'dismissed', reason })}
        done={changed}
      >
        <Button size="small">Dismiss</Button>
      </AskText>
      <Button size="small" onClick={() => setState.mutate('resolved')}>
        Resolved
      </Button>
      <Button size="small" onClick={() => setState.mutate('open')}>
        Open again
      </Button>
      <AskText
        label="Who works on them"
        placeholder="a name"
        act="Assign"
        change={(assignee) => change({ assignee })}
        done={changed}
      >
        <Button size="small">Assign</Button>
      </AskText>
      <AskText
        label="Note"
        placeholder="anything to keep in mind"
        act="Note"
        change={(note) => change({ note })}
        done={changed}
      >
        <Button size="small">Note</Button>
      </AskText>
      <Button size="small" type="text" onClick={() => clear()}>
        Clear selection
      </Button>
    </div>
  );
}
