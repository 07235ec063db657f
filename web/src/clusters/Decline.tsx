import type { ReactElement } from 'react';
import { answer, api, type Schema } from '../api/client';
import { AskText } from '../pieces/AskText';
import { counted } from '../pieces/format';

/** Keeps keywords out of clusters, with a reason. */
export const Decline = ({
  selection,
  done,
  children,
}: {
  selection: Schema['KeywordSelection'];
  done: () => void;
  children: ReactElement;
}) => (
  <AskText
    label="Why they are not wanted"
    placeholder="why they are not wanted"
    act="Decline"
    note="They leave their clusters and are not grouped again."
    change={(reason) => answer(api.POST('/api/keywords/decline', { body: { selection, reason } }))}
    done={(result) => {
      done();
      return `${counted(result.count, 'keyword')} declined.`;
    }}
  >
    {children}
  </AskText>
);
