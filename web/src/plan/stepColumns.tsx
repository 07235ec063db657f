import type { Column } from '../pieces/DataTable';
import { day, decimal, number, shortUrl } from '../pieces/format';
import { SeasonCell } from '../pieces/Season';
import { capital, type Step } from './says';
import ui from '../pieces/ui.module.css';

const short = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', year: '2-digit', timeZone: 'UTC' });

/** The columns of the table of steps. */
export const stepColumns = (host: string | undefined): Column<Step>[] => [
  { key: 'place', title: '#', name: 'Place', width: '34px', numeric: true, sorts: false, render: (r) => r.place ?? '' },
  { key: 'what', title: 'What', width: '66px', render: (r) => capital(r.what) },
  {
    key: 'page',
    title: 'Page',
    width: 'minmax(170px, 2.2fr)',
    render: (r) => <span title={r.url}>{shortUrl(r.url, host)}</span>,
  },
  {
    key: 'parts',
    title: 'For',
    width: 'minmax(100px, 1.4fr)',
    sorts: false,
    render: (r) => {
      const says = r.clusters.map((c) => c.name).join(', ') || r.parts[0]?.says || '';
      return (
        <span className={ui.second} title={says}>
          {says}
        </span>
      );
    },
  },
  {
    key: 'searched',
    title: 'By month',
    yields: 1,
    width: '92px',
    sorts: false,
    render: (r) => <SeasonCell season={r.searched ?? null} />,
  },
  { key: 'gain', title: 'Gain', width: '52px', numeric: true, render: (r) => <b>{number(Math.round(r.gain))}</b> },
  { key: 'hours', title: 'Hours', width: '48px', numeric: true, render: (r) => decimal(r.hours, 2) },
  { key: 'owner', title: 'Owner', yields: 2, width: '58px', render: (r) => <span title={r.owner}>{r.owner}</span> },
  {
    key: 'due',
    title: 'Due',
    width: '84px',
    render: (r) =>
      r.due ? (
        <span className={r.isLate ? ui.clay : undefined} title={day(r.due)}>
          {short.format(new Date(r.due))}
        </span>
      ) : (
        r.season && (
          <span
            className={r.isLate ? ui.clay : ui.quiet}
            title={`for the season: “${r.season.cluster}” is searched for most from ${day(r.season.peak)}`}
          >
            {short.format(new Date(r.season.due))} *
          </span>
        )
      ),
  },
  {
    key: 'status',
    title: 'Status',
    width: '92px',
    render: (r) => <span className={r.statusName.includes('not verified') ? ui.clay : undefined}>{r.statusName}</span>,
  },
];
