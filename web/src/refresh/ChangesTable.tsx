import { useEffect, useState } from 'react';
import { useQueryClient } from '@tanstack/react-query';
import { answer, api, type Schema } from '../api/client';
import { keyOf } from '../api/keys';
import { changeEvidence } from '../api/evidence';
import { DataTable, type Column } from '../pieces/DataTable';
import { counted, day, shortDay, shortUrl } from '../pieces/format';
import type { ListState } from '../pieces/useListState';
import { type Change, changesQuery } from './useChanges';
import { gained, interval, Verdict } from './Verdict';
import ui from '../pieces/ui.module.css';

const ignore = () => undefined;

/** The changes of pages by date, each with what it did. */
export function ChangesTable({
  list,
  host,
  onTally,
}: {
  list: ListState;
  host: string | undefined;
  onTally: (tally: React.ReactNode) => void;
}) {
  const [page, setPage] = useState<Schema['ChangesPage']>();
  const queries = useQueryClient();
  const query = changesQuery(list);
  useEffect(() => {
    if (!page) return;
    const of = (verdict: Schema['EffectVerdict']) => page.verdicts[verdict] ?? 0;
    onTally(
      <>
        <span>
          <b>{counted(page.tally.rows, 'change')}</b>
        </span>
        <span>
          helped <b>{of('helped')}</b>, hurt <b>{of('hurt')}</b>, no effect <b>{of('noEffect')}</b>
        </span>
        <span>
          too early <b>{of('tooEarly')}</b>, too little data <b>{of('tooLittleData')}</b>
        </span>
        {page.isMeasuring && <span className={ui.quiet}>still measuring…</span>}
      </>,
    );
    if (!page.isMeasuring) return;
    const again = setTimeout(() => void queries.invalidateQueries({ queryKey: keyOf('changes') }), 400);
    return () => clearTimeout(again);
  }, [page, onTally, queries]);
  const columns: Column<Change>[] = [
    {
      key: 'day',
      title: 'Date',
      width: '96px',
      render: (r) => (
        <span title={r.day === r.lastDay ? day(r.day) : `${day(r.day)} to ${day(r.lastDay)}, looked at as one`}>
          {shortDay(r.day)} {r.day.slice(0, 4)}
          {r.day !== r.lastDay && ' +'}
        </span>
      ),
    },
    {
      key: 'page',
      title: 'Page',
      width: 'minmax(150px, 1.4fr)',
      render: (r) => <span title={`${r.url}\n${r.title ?? ''}`}>{shortUrl(r.url, host)}</span>,
    },
    { key: 'kinds', title: 'Changed', width: 'minmax(90px, 1fr)', render: (r) => r.kinds.join(', '), sorts: false },
    {
      key: 'says',
      title: 'What',
      width: 'minmax(110px, 1.6fr)',
      render: (r) => (
        <span className={ui.second} title={r.says}>
          {r.says}
        </span>
      ),
      sorts: false,
    },
    { key: 'verdict', title: 'Did it help?', width: '118px', render: (r) => <Verdict effect={r.effect} /> },
    { key: 'effect', title: 'Clicks', width: '58px', numeric: true, render: (r) => <b>{gained(r.effect)}</b> },
    {
      key: 'interval',
      title: '95 % interval',
      yields: 1,
      width: '96px',
      numeric: true,
      render: (r) => <span className={ui.second}>{interval(r.effect)}</span>,
      sorts: false,
    },
  ];
  return (
    <DataTable
      name="changes"
      query={query}
      read={async (range) => {
        const read = await answer(api.GET('/api/changes', { params: { query: { ...query, ...range } } }));
        if (range.Offset === 0) setPage(read);
        return read;
      }}
      columns={columns}
      list={list}
      idOf={(r) => r.id}
      evidenceOf={(r) => changeEvidence(r.pageId, r.day)}
      selected={list.text('id') && list.text('day') ? `${list.text('id')}-${list.text('day')}` : undefined}
      onSelect={(r) => list.set({ id: r.pageId, day: r.day })}
      onTally={ignore}
      empty={
        page && page.all > 0 ? (
          <p>No changes match. Remove a condition above.</p>
        ) : (
          <p>
            No change is known yet. A scan of the site finds what changed since the scan before; steps of the plan that
            go live are changes; and others can be entered at the right.
          </p>
        )
      }
    />
  );
}
