import type { Schema } from '../api/client';
import type { Column } from '../pieces/DataTable';
import { number, shortUrl } from '../pieces/format';
import ui from '../pieces/ui.module.css';

type Row = Schema['PageRow'];

/** The columns of the table of pages. */
export const pageColumns = (host: string | undefined): Column<Row>[] => [
  {
    key: 'url',
    title: 'Page',
    width: 'minmax(210px, 2fr)',
    render: (r) => <span title={r.url}>{shortUrl(r.url, host)}</span>,
  },
  {
    key: 'title',
    title: 'Title',
    width: 'minmax(130px, 1.8fr)',
    render: (r) => <span title={r.title ?? ''}>{r.title ?? <span className={ui.quiet}>not known</span>}</span>,
  },
  {
    key: 'indexable',
    title: 'State',
    width: '92px',
    render: (r) =>
      r.kind === 'planned' ? (
        'planned'
      ) : r.goneSince ? (
        <span className={ui.clay}>gone</span>
      ) : r.indexable && r.indexable !== 'yes' ? (
        <span title={r.redirectsTo ?? r.canonical ?? ''}>{r.indexable}</span>
      ) : (
        'existing'
      ),
  },
  { key: 'words', title: 'Words', yields: 3, width: '52px', numeric: true, render: (r) => number(r.words) },
  { key: 'linksIn', title: 'Links in', yields: 2, width: '58px', numeric: true, render: (r) => number(r.linksIn) },
  {
    key: 'clusterName',
    title: 'Cluster',
    width: 'minmax(90px, 1.2fr)',
    render: (r) =>
      r.clusterName ? (
        <span title={r.clusterName}>
          {r.clusterName}
          {r.clusters > 1 && ` +${r.clusters - 1}`}
        </span>
      ) : (
        <span className={ui.quiet}>none</span>
      ),
  },
  { key: 'seenFor', title: 'Seen for', yields: 1, width: '60px', numeric: true, render: (r) => number(r.seenFor) },
  { key: 'clicks', title: 'Clicks, est.', width: '78px', numeric: true, render: (r) => number(r.clicks) },
];
