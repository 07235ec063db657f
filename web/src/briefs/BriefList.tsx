import { useQuery } from '@tanstack/react-query';
import { Button, Dropdown } from 'antd';
import { fileUrl } from '../api/base';
import { answer, api, type Schema } from '../api/client';
import { briefEvidence } from '../api/evidence';
import { useProject } from '../api/hooks';
import { keyOf } from '../api/keys';
import { AboutList } from '../pieces/AboutList';
import { DataTable, type Column } from '../pieces/DataTable';
import { Choice } from '../pieces/FilterSentence';
import { day, number, shortUrl } from '../pieces/format';
import { ListScreen } from '../pieces/ListScreen';
import { NotYet } from '../pieces/States';
import type { ListState } from '../pieces/useListState';
import { usePicks } from '../pieces/usePicks';
import { MakePane } from './MakePane';
import { inSentence, words } from '../api/words';
import { formats, type State } from './says';
import ui from '../pieces/ui.module.css';

type Row = Schema['BriefRow'];

const names = { state: 'state', writer: 'writer' };

/** The columns of the table of briefs. */
const briefColumns = (host: string | undefined): Column<Row>[] => [
  {
    key: 'primary',
    title: 'Keyword',
    width: 'minmax(150px, 2fr)',
    render: (r) => (
      <>
        {r.primary}
        {r.isGone && <span className={ui.clay}> (its cluster is gone)</span>}
      </>
    ),
  },
  {
    key: 'url',
    title: 'Page',
    width: 'minmax(130px, 1.6fr)',
    render: (r) => (
      <span className={ui.second} title={r.url}>
        {shortUrl(r.url, host)}
      </span>
    ),
  },
  { key: 'demand', title: 'Demand, est.', width: '88px', numeric: true, render: (r) => number(r.demand) },
  { key: 'words', title: 'Words', width: '58px', numeric: true, render: (r) => number(r.words) },
  { key: 'writer', title: 'Writer', width: '96px', render: (r) => <span title={r.writer}>{r.writer}</span> },
  { key: 'due', title: 'Due', width: '96px', render: (r) => (r.due ? day(r.due) : '') },
  { key: 'state', title: 'State', width: '70px', render: (r) => r.state },
];
/** All briefs. */
export function BriefList({ list }: { list: ListState }) {
  const host = useProject().data?.project.host;
  const picks = usePicks(list, Number);
  const state = list.text('state') as State | undefined;
  const writer = list.text('writer');
  const query = { ...list.listing, state, writer };
  const head = useQuery({
    queryKey: keyOf('briefs', 'head', query),
    queryFn: () => answer(api.GET('/api/briefs', { params: { query: { ...query, Limit: 1 } } })),
  });
  const isNarrowed = Boolean(state ?? writer ?? list.text('search'));
  const which = picks.ids.size > 0 ? [...picks.ids].map((id) => `&id=${id}`).join('') : '';
  return (
    <ListScreen
      title="Briefs"
      actions={
        <Dropdown
          trigger={['click']}
          disabled={!head.data?.tally.rows}
          menu={{
            items: formats.map((f) => ({
              key: f.value,
              label: <a href={fileUrl(`/api/briefs.zip?format=${f.value}${which}`)}>{f.label}</a>,
            })),
          }}
        >
          <Button>{picks.ids.size > 0 ? `Export ${picks.ids.size} as ZIP` : 'Export all as ZIP'}</Button>
        </Dropdown>
      }
      sentence={
        <div className={ui.says}>
          Showing briefs that are
          <Choice
            label="State"
            any="in any state"
            value={state}
            options={inSentence(words.briefStates)}
            onChange={(next) => list.set({ state: next })}
          />
          by
          <Choice
            label="Writer"
            any="any writer"
            value={writer}
            options={(head.data?.writers ?? []).map((w) => ({ value: w, says: w }))}
            onChange={(next) => list.set({ writer: next })}
          />
        </div>
      }
      pickedIds={picks.ids}
      pane={
        <MakePane
          selected={list.numeric('at')}
          open={(id) => list.set({ id })}
          about={<AboutList of="briefs" list={list} names={names} />}
        />
      }
      tally={
        head.data && (
          <>
            <span>
              <b>{number(head.data.tally.rows)}</b> {head.data.tally.rows === 1 ? 'brief' : 'briefs'},{' '}
              {number(head.data.sent)} with writers or further
            </span>
            <span>
              <b>{number(head.data.words)}</b> words
            </span>
            <span>
              demand <b>{number(head.data.tally.demand)}</b> a month, estimated
            </span>
          </>
        )
      }
    >
      <DataTable<Row>
        name="briefs"
        query={query}
        read={(range) => answer(api.GET('/api/briefs', { params: { query: { ...query, ...range } } }))}
        columns={briefColumns(host)}
        list={list}
        idOf={(r) => r.id}
        selected={list.text('at')}
        onSelect={(r) => list.set({ at: r.id })}
        onKey={(key, row) => {
          if (key !== 'Enter' || !row) return false;
          list.set({ id: row.id });
          return true;
        }}
        picks={picks}
        evidenceOf={(r) => briefEvidence(r.id)}
        onTally={() => undefined}
        empty={
          <NotYet title={isNarrowed ? 'No brief fits' : 'No briefs yet'}>
            {isNarrowed
              ? 'Choose another state or writer, or search for something else.'
              : 'Choose a cluster at the right. Its brief is made from the ranking pages, the keywords and the questions.'}
          </NotYet>
        }
      />
    </ListScreen>
  );
}
