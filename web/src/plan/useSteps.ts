import { answer, api, type Schema } from '../api/client';
import { useChange } from '../api/hooks';
import { counted } from '../pieces/format';
import type { ListState } from '../pieces/useListState';

type Change = Partial<Schema['ChangeStepsRequest']>;

const empty: Schema['ChangeStepsRequest'] = {
  ids: null,
  filter: null,
  search: null,
  status: null,
  reason: null,
  owner: null,
  due: null,
  week: null,
  hours: null,
  note: null,
  version: null,
};

export const sendChange = (change: Change) =>
  answer(api.POST('/api/plan/steps/change', { body: { ...empty, ...change } }));

/** Changes steps; what is null stays. */
export const saysChanged = (result: { steps: number }) => `${counted(result.steps, 'step')} changed.`;

export const useStepChange = () => useChange(sendChange, saysChanged);

/** What is asked for of the steps, as it is in the address. */
export function stepQuery(list: ListState) {
  const status = list.text('status');
  return {
    ...list.listing,
    StepStatus: status === 'any' ? undefined : (status as Schema['StepStatus'] | undefined),
    AnyStatus: status === 'any' ? true : undefined,
    Kind: list.text('kind') as Schema['StepKind'] | undefined,
    Owner: list.text('owner') === '-' ? '' : list.text('owner'),
    TopicId: list.numeric('topic'),
    PageId: list.numeric('page'),
    DueBefore: list.text('due'),
  };
}

export type StepQuery = ReturnType<typeof stepQuery>;
