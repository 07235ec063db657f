import { answer, api, type Schema } from '../api/client';
import { useChange } from '../api/hooks';
import { counted } from '../pieces/format';

export type Item = Schema['QueryItem'];

/** A row's id, "12-345", as the page and the query that it is of. */
export const itemOf = (id: string): Item => {
  const [pageId, queryId] = id.split('-').map(Number);
  return { pageId: pageId!, queryId: queryId! };
};

/** What planners do with queries, for one or many. */
export function useQueryWork(period: object, done: () => void) {
  const told = (says: string) => {
    done();
    return says;
  };
  const work = useChange(
    ({ work, items }: { work: Schema['QueryWork']; items: Item[] }) =>
      answer(api.POST('/api/refresh/work', { body: { work, items, period: periodBody(period) } })),
    (r) => told(`${counted(r.queries, 'query', 'queries')} added to ${counted(r.steps.length, 'step')} of the plan.`),
  );
  const ignore = useChange(
    ({ items, isIrrelevant, everywhere }: { items: Item[]; isIrrelevant: boolean; everywhere: boolean }) =>
      answer(api.POST('/api/refresh/irrelevant', { body: { items, isIrrelevant, everywhere } })),
    (r) => told(`${counted(r.queries, 'query', 'queries')} changed.`),
  );
  const keywords = useChange(
    (items: Item[]) =>
      answer(
        api.POST('/api/refresh/keywords', { body: { items, filter: null, search: null, period: periodBody(period) } }),
      ),
    (r) =>
      told(
        `${counted(r.queries, 'query', 'queries')} in the keywords, ${r.new} of them new. Capture and group them to give them a page.`,
      ),
  );
  return { work, ignore, keywords };
}

const periodBody = (period: object): Schema['PeriodChoice'] => {
  const { Days, From, To, YearBefore } = period as { Days?: number; From?: string; To?: string; YearBefore?: boolean };
  return { days: Days ?? null, from: From ?? null, to: To ?? null, yearBefore: YearBefore ?? null };
};
