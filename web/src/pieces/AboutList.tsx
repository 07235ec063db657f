import { useQuery } from '@tanstack/react-query';
import type { ReactNode } from 'react';
import { Link, useLocation } from 'react-router';
import { answer, api, type Schema } from '../api/client';
import { keyOf } from '../api/keys';
import { counted, moment, number } from './format';
import { Failed, Reading } from './States';
import type { ListState } from './useListState';
import ui from './ui.module.css';
import styles from './about.module.css';

const summaries = {
  keywords: () => answer(api.GET('/api/keywords/summary')),
  pages: () => answer(api.GET('/api/pages/summary')),
  clusters: () => answer(api.GET('/api/clusters/summary')),
  'page map': () => answer(api.GET('/api/page-map/summary')),
  findings: () => answer(api.GET('/api/findings/summary')),
  briefs: () => answer(api.GET('/api/briefs/summary')),
};

/** Recent changes that are shown. */
const mostRecent = 6;

/**
 * What is worth knowing of a list while nothing is selected: what to do next, how its rows are spread, what changed.
 * @param names For a name of the list's query its name in the address; a share whose names are all there can be clicked.
 */
export function AboutList({
  of,
  list,
  names,
  children,
}: {
  of: keyof typeof summaries;
  list: ListState;
  names: Record<string, string>;
  /** Signs used in the table, and the like. */
  children?: ReactNode;
}) {
  const summary = useQuery({ queryKey: keyOf('summary', of), queryFn: summaries[of] });
  if (summary.isError) return <Failed error={summary.error} retry={() => void summary.refetch()} />;
  if (!summary.data) return <Reading />;
  return (
    <div className={styles.parts}>
      <NextHere />
      {summary.data.distributions.map((distribution) => (
        <Spread key={distribution.title} of={distribution} list={list} names={names} />
      ))}
      {children}
      <RecentChanges />
    </div>
  );
}

/** What to do next on this stage; on the one that comes first where nothing is left to do here. */
function NextHere() {
  const { pathname } = useLocation();
  const next =
    useQuery({ queryKey: keyOf('overview'), queryFn: () => answer(api.GET('/api/overview')) }).data?.next ?? [];
  const here = next.filter((step) => pathname.startsWith(`/${step.stage}`));
  const shown = here.length > 0 ? here : next.slice(0, 1);
  if (shown.length === 0) return null;
  return (
    <section aria-label="What next">
      <h2>What next</h2>
      {shown.map((step) => (
        <p key={step.title}>
          {here.length > 0 ? <b>{step.title}</b> : <Link to={`/${step.stage}`}>{step.title}</Link>}
          {step.worth != null && `, ${number(step.worth)} ${step.worthUnit}`}
          {step.detail && <span className={ui.second}>: {step.detail}</span>}
        </p>
      ))}
    </section>
  );
}

/** How the rows are spread over the values of one thing, as a table with bars. */
function Spread({ of, list, names }: { of: Schema['Distribution']; list: ListState; names: Record<string, string> }) {
  const most = Math.max(1, ...of.shares.map((share) => share.count));
  if (of.shares.length === 0) return null;
  return (
    <table className={`${ui.facts} ${styles.spread}`}>
      <thead>
        <tr>
          <th>{of.title}</th>
          <th aria-hidden />
          <th className={ui.num}>Rows</th>
          {of.unit && <th className={ui.num}>{of.unit}</th>}
        </tr>
      </thead>
      <tbody>
        {of.shares.map((share) => {
          const filter = Object.entries(share.filter);
          const canFilter = filter.length > 0 && filter.every(([name]) => names[name] !== undefined);
          return (
            <tr key={share.says}>
              <td>
                {canFilter ? (
                  <button
                    className={`${ui.chip} ${ui.quiet}`}
                    title="Show these alone"
                    onClick={() =>
                      list.set(Object.fromEntries(filter.map(([name, value]) => [names[name]!, said(value, name)])))
                    }
                  >
                    {share.says}
                  </button>
                ) : (
                  share.says
                )}
              </td>
              <td className={styles.bars}>
                <span className={ui.bar} style={{ width: `${(100 * share.count) / most}%` }} />
              </td>
              <td className={ui.num}>{number(share.count)}</td>
              {of.unit && <td className={`${ui.num} ${ui.second}`}>{number(share.worth)}</td>}
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}

/** Conditions that are true or false are yes or no in the address, except where keywords are sifted. */
const said = (value: string, name: string) =>
  name !== 'capture' && value === 'true' ? 'yes' : name !== 'capture' && value === 'false' ? 'no' : value;

/** The last steps of the history. */
function RecentChanges() {
  const history = useQuery({ queryKey: keyOf('history'), queryFn: () => answer(api.GET('/api/history')) }).data ?? [];
  const recent = history.filter((step) => !step.isUndone).slice(0, mostRecent);
  if (recent.length === 0) return null;
  return (
    <section aria-label="Recent changes">
      <h2>Recent changes</h2>
      {recent.map((step) => (
        <p key={step.id} className={styles.recent}>
          {step.label}{' '}
          <span className={ui.quiet}>
            {step.author && `${step.author}, `}
            {moment(step.madeAt)}
          </span>
        </p>
      ))}
      {history.length > mostRecent && (
        <p className={ui.second}>{counted(history.length, 'step')} in the history, at the top right.</p>
      )}
    </section>
  );
}
