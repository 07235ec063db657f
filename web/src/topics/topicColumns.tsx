import type { Schema } from '../api/client';
import type { Column } from '../pieces/DataTable';
import { KeywordCount } from '../pieces/Expected';
import { number, percent } from '../pieces/format';
import { SeasonCell } from '../pieces/Season';
import { Coverage } from './Coverage';
import ui from '../pieces/ui.module.css';

/** The columns of the table of topics. */
export const topicColumns: Column<Schema['TopicRow']>[] = [
  { key: 'name', title: 'Topic', width: 'minmax(140px, 2fr)', render: (r) => <span title={r.name}>{r.name}</span> },
  { key: 'clusters', title: 'Clusters', width: '56px', numeric: true, render: (r) => number(r.clusters) },
  {
    key: 'keywords',
    title: 'Keywords',
    width: '70px',
    numeric: true,
    render: (r) => <KeywordCount captured={r.keywords} expected={r.expected} />,
  },
  { key: 'demand', title: 'Demand', width: '60px', numeric: true, render: (r) => number(r.demand) },
  {
    key: 'season',
    title: 'By month',
    yields: 2,
    width: '98px',
    sorts: false,
    render: (r) => <SeasonCell season={r.season ?? null} />,
  },
  { key: 'coverage', title: 'Coverage', width: '100px', sorts: false, render: (r) => <Coverage topic={r} /> },
  {
    key: 'covered',
    title: 'Covered',
    width: '66px',
    numeric: true,
    render: (r) => percent(r.coveredDemand / Math.max(1, r.demand)),
  },
  {
    key: 'atStake',
    title: 'At stake',
    width: '66px',
    numeric: true,
    render: (r) => (r.atStake >= 0.5 ? number(r.atStake) : <span className={ui.quiet}>0</span>),
  },
  {
    key: 'waiting',
    title: 'Waiting',
    yields: 1,
    width: '60px',
    numeric: true,
    sorts: false,
    render: (r) => (r.waiting > 0 ? number(r.waiting) : <span className={ui.quiet}>0</span>),
  },
];
