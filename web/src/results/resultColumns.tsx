import type { Schema } from '../api/client';
import type { Column } from '../pieces/DataTable';
import { day, number } from '../pieces/format';
import ui from '../pieces/ui.module.css';

type Row = Schema['KeywordRow'];

/** The columns of the table of result lists. */
export const resultColumns: Column<Row>[] = [
  {
    key: 'phrase',
    title: 'Keyword',
    width: 'minmax(200px, 3fr)',
    render: (r) => <span title={r.phrase}>{r.phrase}</span>,
  },
  { key: 'volume', title: 'Volume, est.', width: '86px', numeric: true, render: (r) => number(r.volume) },
  {
    key: 'capturedOn',
    title: 'Captured on',
    yields: 1,
    width: '136px',
    numeric: true,
    render: (r) => (r.capturedOn ? day(r.capturedOn) : <span className={ui.quiet}>–</span>),
  },
  {
    key: 'capture',
    title: 'State',
    width: '126px',
    render: (r) =>
      r.capture === 'captured' ? (
        r.captureNote ? (
          <span title={r.captureNote}>captured, then failed</span>
        ) : (
          'captured'
        )
      ) : r.capture === 'empty' ? (
        'came back empty'
      ) : r.capture === 'failed' ? (
        <span className={ui.clay} title={r.captureNote ?? ''}>
          capture failed
        </span>
      ) : r.capture === 'expected' ? (
        <span className={ui.second}>expected</span>
      ) : (
        <span className={ui.quiet}>not asked for yet</span>
      ),
  },
  {
    key: 'clusterName',
    title: 'Cluster',
    width: 'minmax(130px, 2fr)',
    render: (r) =>
      r.clusterName ? (
        <span title={r.clusterName}>{r.clusterName}</span>
      ) : (
        <span className={ui.quiet}>not grouped</span>
      ),
  },
];
