import { Button, Input, Popover } from 'antd';
import { useState } from 'react';
import { answer, api, ApiError, type Schema } from '../api/client';
import { useChange } from '../api/hooks';
import { counted } from '../pieces/format';

/** Keeps keywords out of clusters, with a reason. */
export function Decline({
  selection,
  done,
  children,
}: {
  selection: Schema['KeywordSelection'];
  done: () => void;
  children: React.ReactElement;
}) {
  const [open, setOpen] = useState(false);
  const [reason, setReason] = useState('');
  const decline = useChange(
    () => answer(api.POST('/api/keywords/decline', { body: { selection, reason } })),
    (result) => {
      setOpen(false);
      setReason('');
      done();
      return `${counted(result.count, 'keyword')} declined. Undo takes it back.`;
    },
  );
  return (
    <Popover
      trigger="click"
      open={open}
      onOpenChange={setOpen}
      content={
        <form
          className="editor"
          onSubmit={(event) => {
            event.preventDefault();
            decline.mutate(undefined);
          }}
        >
          <div className="line">
            <Input
              autoFocus
              aria-label="Why they are not wanted"
              placeholder="why they are not wanted"
              maxLength={300}
              value={reason}
              onChange={(event) => setReason(event.target.value)}
            />
            <Button type="primary" htmlType="submit" disabled={reason.trim() === ''} loading={decline.isPending}>
              Decline
            </Button>
          </div>
          <span className="quiet">They leave their clusters and are not grouped again.</span>
          {decline.error instanceof ApiError && <div className="fault">{decline.error.message}</div>}
        </form>
      }
    >
      {children}
    </Popover>
  );
}
