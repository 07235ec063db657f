import { Link } from 'react-router';
import { nameOf, words } from '../api/words';
import type { Schema } from '../api/client';
import type { Column } from '../pieces/DataTable';
import { ExpectedMark } from '../pieces/Expected';
import { decimal, number } from '../pieces/format';
import { SeasonCell } from '../pieces/Season';
import ui from '../pieces/ui.module.css';

type Row = Schema['KeywordRow'];

/** The columns of the table of keywords. */
export const keywordColumns: Column<Row>[] = [
  {
    key: 'phrase',
    title: 'Keyword',
    width: 'minmax(150px, 3fr)',
    render: (r) => <span title={r.phrase}>{r.phrase}</span>,
  },
  { key: 'volume', title: 'Volume, est.', width: '72px', numeric: true, render: (r) => number(r.volume) },
  { key: 'season', title: 'By month', yields: 3, width: '98px', render: (r) => <SeasonCell season={r.season} /> },
  { key: 'difficulty', title: 'Difficulty', width: '58px', numeric: true, render: (r) => decimal(r.difficulty, 0) },
  {
    key: 'titleMatches',
    title: 'In titles',
    yields: 4,
    width: '52px',
    numeric: true,
    render: (r) => number(r.titleMatches),
  },
  {
    key: 'titleCompetition',
    title: '÷ volume',
    name: 'Titles ÷ volume',
    yields: 2,
    width: '54px',
    numeric: true,
    render: (r) => decimal(r.titleCompetition, 2),
  },
  { key: 'cpc', title: 'Cost/click', yields: 1, width: '64px', numeric: true, render: (r) => decimal(r.cpc, 2) },
  {
    key: 'intent',
    title: 'Intent',
    width: '96px',
    render: (r) =>
      r.intent ? (
        <span title={r.intentToldBy ? `guessed from “${r.intentToldBy}”` : 'as the source says'}>
          {r.intent}
          {r.intentToldBy && <span className={ui.quiet}> *</span>}
        </span>
      ) : (
        <span className={ui.quiet}>not known</span>
      ),
  },
  {
    key: 'clusterName',
    title: 'Cluster',
    width: 'minmax(130px, 1.6fr)',
    render: (r) =>
      r.clusterId ? (
        <>
          {r.capture === 'expected' && <ExpectedMark />}
          <Link to={`/clusters?id=${r.clusterId}`} title={r.clusterName ?? ''}>
            {r.clusterName}
          </Link>
        </>
      ) : (
        <span className={ui.quiet}>
          {r.capture === 'captured' ? 'not grouped' : nameOf(words.captureStates, r.capture)}
        </span>
      ),
  },
];
