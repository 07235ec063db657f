import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { answer, api } from '../api/client';
import { keyOf } from '../api/keys';
import { number } from '../pieces/format';
import { Failed, NotYet, Reading } from '../pieces/States';
import type { ListState } from '../pieces/useListState';
import type { KeywordQuery } from './filter';
import tableStyles from '../pieces/table.module.css';
import styles from './keywords.module.css';
import ui from '../pieces/ui.module.css';

const lengths = [
  { words: 1, title: 'Words' },
  { words: 2, title: 'Phrases of two' },
  { words: 3, title: 'Phrases of three' },
];

/** The words and phrases that recur in the keywords in view; a click takes one into the filter, or out of the view. */
export function ModifiersView({ list, query }: { list: ListState; query: KeywordQuery }) {
  const modifiers = useQuery({
    queryKey: keyOf('modifiers', query),
    placeholderData: keepPreviousData,
    queryFn: () =>
      answer(api.GET('/api/keywords/modifiers', { params: { query: { ...query, search: query.Search } } })),
  });
  if (modifiers.isError) return <Failed error={modifiers.error} retry={() => void modifiers.refetch()} />;
  if (!modifiers.data) return <Reading />;
  if (modifiers.data.length === 0)
    return (
      <NotYet title="Nothing recurs">
        No word occurs twice in these keywords. Remove a condition above, or add more keywords.
      </NotYet>
    );
  const add = (key: 'wordsIn' | 'wordsOut', phrase: string) => {
    const before = list.text(key);
    list.set({
      [key]: before ? `${before}, ${phrase}` : phrase,
      allWordsIn: key === 'wordsIn' && before ? 'true' : list.text('allWordsIn'),
    });
  };
  return (
    <div className={`${tableStyles.grid} ${styles.three}`} tabIndex={0} data-list aria-label="modifiers" role="region">
      {lengths.map(({ words, title }) => (
        <table className={ui.facts} key={words}>
          <thead>
            <tr>
              <th>{title}</th>
              <th className={ui.num}>In</th>
              <th className={ui.num}>Demand</th>
              <th />
            </tr>
          </thead>
          <tbody>
            {modifiers.data
              .filter((m) => m.words === words)
              .map((m) => (
                <tr key={m.phrase}>
                  <td>
                    <button
                      className={ui.chip}
                      title={`Show keywords with “${m.phrase}”`}
                      onClick={() => add('wordsIn', m.phrase)}
                    >
                      {m.phrase}
                    </button>
                  </td>
                  <td className={ui.num}>{number(m.count)}</td>
                  <td className={ui.num}>{number(m.demand)}</td>
                  <td className={ui.num}>
                    <button
                      className={`${ui.chip} ${ui.quiet}`}
                      aria-label={`Leave out ${m.phrase}`}
                      onClick={() => add('wordsOut', m.phrase)}
                    >
                      out
                    </button>
                  </td>
                </tr>
              ))}
          </tbody>
        </table>
      ))}
    </div>
  );
}
