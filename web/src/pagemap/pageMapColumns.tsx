import type { Schema } from '../api/client';
import type { Column } from '../pieces/DataTable';
import { decimal, number, shortUrl } from '../pieces/format';
import { PlotMark } from '../pieces/PlotMark';
import ui from '../pieces/ui.module.css';

/** The columns of the page map. */
export const pageMapColumns = (host: string | undefined): Column<Schema['ClusterRow']>[] => [
  { key: 'mark', title: '', name: 'Coverage', width: '20px', sorts: false, render: (r) => <PlotMark mark={r.mark} /> },
  { key: 'name', title: 'Cluster', width: 'minmax(150px, 2fr)', render: (r) => <span title={r.name}>{r.name}</span> },
  { key: 'demand', title: 'Demand', width: '60px', numeric: true, render: (r) => number(r.demand) },
  {
    key: 'pageUrl',
    title: 'Page',
    width: 'minmax(120px, 1.8fr)',
    render: (r) =>
      r.pageUrl ? (
        <span title={r.pageUrl}>
          {shortUrl(r.pageUrl, host)}
          {r.pageKind === 'planned' && <span className={ui.quiet}> planned</span>}
        </span>
      ) : (
        <span className={ui.quiet} title={r.declined ?? undefined}>
          {r.declined ? 'declined' : 'not decided'}
        </span>
      ),
  },
  {
    key: 'suggestedUrl',
    title: 'Suggested page',
    width: 'minmax(120px, 1.8fr)',
    render: (r) =>
      r.pageId !== null && r.pageId === r.suggestedPageId ? (
        <span className={ui.quiet}>the same</span>
      ) : r.suggestedUrl ? (
        <span title={r.suggestedUrl}>{shortUrl(r.suggestedUrl, host)}</span>
      ) : (
        <span className={ui.quiet}>none: plan a page</span>
      ),
  },
  {
    key: 'strength',
    title: 'Strength',
    yields: 1,
    width: '60px',
    numeric: true,
    render: (r) => decimal(r.strength, 0),
  },
  { key: 'verdict', title: 'Verdict', width: '66px', render: (r) => r.verdict ?? '–' },
];
