import { useQuery } from '@tanstack/react-query';
import { Link, useSearchParams } from 'react-router';
import { answer, api, type Schema } from '../api/client';
import { useProject } from '../api/hooks';
import { keyOf } from '../api/keys';
import { counted, day, number, percent } from '../pieces/format';
import { PlotMark } from '../pieces/PlotMark';
import { Failed, NotYet, Reading } from '../pieces/States';
import { Stage } from '../pieces/Stage';
import { FirstStart } from './FirstStart';
import { PlotMap } from './PlotMap';
import { PlotTable } from './PlotTable';
import ui from '../pieces/ui.module.css';
import styles from './overview.module.css';

/** Where the site stands, and what next. */
export function OverviewScreen() {
  const overview = useQuery({ queryKey: keyOf('overview'), queryFn: () => answer(api.GET('/api/overview')) });
  const [address, setAddress] = useSearchParams();
  const isTable = address.get('as') === 'table';
  const host = useProject().data?.project.host;
  if (overview.isError) return <Failed error={overview.error} retry={() => void overview.refetch()} />;
  if (!overview.data) return <Reading />;
  const { topics, clusters, keywords, demand, marks, plots, morePlots, moreDemand, next, capturedOn } = overview.data;
  // Nothing was brought and no site named: the first thing to do is the very first.
  const isNew = next[0]?.stage === 'site' && next.some((step) => step.stage === 'keywords');
  return (
    <Stage
      work={
        <>
          <div className={ui.head}>
            <h1>Where the site stands</h1>
            <span className={`${ui.second} ${ui.cut}`}>
              {demand > 0 && `demand ${number(demand)} searches a month, estimated`}
            </span>
            <span className={ui.gap} />
            {plots.length > 0 && (
              <button className={ui.link} onClick={() => setAddress(isTable ? {} : { as: 'table' }, { replace: true })}>
                {isTable ? 'Show as a map' : 'Show as a table'}
              </button>
            )}
          </div>
          {plots.length > 0 ? (
            isTable ? (
              <PlotTable plots={plots} host={host} />
            ) : (
              <PlotMap plots={plots} />
            )
          ) : isNew ? (
            <FirstStart />
          ) : (
            <NotYet title="Nothing to show yet">
              <p>
                Once keywords are captured and grouped, the site is drawn here by demand, with what is covered and what
                is not.
              </p>
              {next[0] && <Link to={`/${next[0].stage}`}>{next[0].title}</Link>}
            </NotYet>
          )}
        </>
      }
      pane={
        <>
          {!isNew && <ShareOfDemand marks={marks} />}
          <h2>What next</h2>
          {next.length === 0 && <p>Every cluster has its page and nothing is open.</p>}
          <ol className={styles.next}>
            {next.map((step) => (
              <li key={step.title}>
                <Link to={`/${step.stage}`}>
                  <span>
                    <b>{step.title}</b>
                    <br />
                    <span className={ui.second}>{step.detail}</span>
                  </span>
                  <span className={styles.worth}>
                    {step.worth === null ? '' : number(step.worth)}
                    <br />
                    <span className={ui.second}>{step.worthUnit}</span>
                  </span>
                </Link>
              </li>
            ))}
          </ol>
        </>
      }
      tally={
        <>
          {topics > 0 && (
            <span>
              <b>{number(topics)}</b> topics
            </span>
          )}
          <span>
            <b>{number(clusters)}</b> clusters
          </span>
          <span>
            <b>{number(keywords)}</b> keywords in them
          </span>
          <span>
            demand <b>{number(demand)}</b> a month, estimated
          </span>
          {morePlots > 0 && (
            <span className={ui.quiet}>
              not drawn: {counted(morePlots, 'smaller cluster')}, demand {number(moreDemand)}
            </span>
          )}
          <span className={ui.gap} />
          {capturedOn && <span className={ui.quiet}>captured {day(capturedOn)}</span>}
        </>
      }
    />
  );
}

/** How much of the demand each mark has. */
function ShareOfDemand({ marks }: { marks: Schema['MarkShare'][] }) {
  return (
    <>
      <h2>Share of demand</h2>
      <div className={styles.share} aria-hidden="true">
        {marks
          .filter((m) => m.share > 0)
          .map((m) => (
            <span key={m.mark} className={styles[m.mark]} style={{ width: `${m.share * 100}%` }} />
          ))}
      </div>
      <table className={ui.facts}>
        <tbody>
          {marks.map((m) => (
            <tr key={m.mark}>
              <td>
                <PlotMark mark={m.mark} /> <Link to={`/clusters?mark=${m.mark}`}>{m.mark}</Link>
              </td>
              <td className={ui.num}>{percent(m.share)}</td>
              <td className={ui.num}>{number(m.demand)} a month</td>
              <td className={ui.num}>{counted(m.clusters, 'cluster')}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <hr />{' '}
    </>
  );
}
