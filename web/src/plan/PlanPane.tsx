import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { answer, api } from '../api/client';
import { keyOf } from '../api/keys';
import { decimal, number, shortUrl } from '../pieces/format';
import { Failed, Reading } from '../pieces/States';
import { capital } from './says';
import type { StepQuery } from './useSteps';
import ui from '../pieces/ui.module.css';

/** What is worth knowing of the plan while no step is selected: who has how much, and what comes first. */
export function PlanPane({ host, query }: { host: string | undefined; query: StepQuery }) {
  const roadmap = useQuery({
    queryKey: keyOf('roadmap', query),
    queryFn: () => answer(api.GET('/api/plan/roadmap', { params: { query: { ...query, search: query.Search } } })),
  });
  if (roadmap.isError) return <Failed error={roadmap.error} retry={() => void roadmap.refetch()} />;
  if (!roadmap.data) return <Reading />;
  const { bars, load, notFitting } = roadmap.data;
  const all = [...bars, ...notFitting];
  const byWhat = [...new Set(all.map((s) => s.what))].map((what) => {
    const steps = all.filter((s) => s.what === what);
    return {
      what,
      steps: steps.length,
      hours: steps.reduce((sum, s) => sum + s.hours, 0),
      gain: steps.reduce((sum, s) => sum + s.gain, 0),
    };
  });
  return (
    <>
      <h2>To do</h2>
      {all.length === 0 ? (
        <p>No steps yet. Accept findings, decide conflicts or plan pages to add steps.</p>
      ) : (
        <table className={ui.facts}>
          <thead>
            <tr>
              <th>What</th>
              <th className={ui.num}>Steps</th>
              <th className={ui.num}>Hours</th>
              <th className={ui.num}>Gain</th>
            </tr>
          </thead>
          <tbody>
            {byWhat.map((w) => (
              <tr key={w.what}>
                <td>{capital(w.what)}</td>
                <td className={ui.num}>{number(w.steps)}</td>
                <td className={ui.num}>{decimal(w.hours, 1)}</td>
                <td className={ui.num}>{number(Math.round(w.gain))}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <hr />
      <h2>People</h2>
      <table className={ui.facts}>
        <thead>
          <tr>
            <th>Name</th>
            <th className={ui.num}>Hours taken</th>
            <th className={ui.num}>A week</th>
          </tr>
        </thead>
        <tbody>
          {load.map((p) => (
            <tr key={p.name}>
              <td>{p.name}</td>
              <td className={ui.num}>
                {decimal(
                  p.hours.reduce((a, b) => a + b, 0),
                  1,
                )}
              </td>
              <td className={ui.num}>{decimal(Math.max(0, ...p.free), 1)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {notFitting.length > 0 && (
        <>
          <hr />
          <h2>Doesn’t fit before the roadmap ends</h2>
          {notFitting.slice(0, 20).map((s) => (
            <p key={s.id}>
              <Link to={`/plan?id=${s.id}`}>
                {capital(s.what)}: {shortUrl(s.url, host)}
              </Link>
              , would bring about {number(Math.round(s.gain))} clicks a month
            </p>
          ))}
          {notFitting.length > 20 && <p className={ui.quiet}>and {number(notFitting.length - 20)} more</p>}
        </>
      )}
      {bars.length > 0 && (
        <>
          <hr />
          <h2>First</h2>
          {bars.slice(0, 5).map((s) => (
            <p key={s.id}>
              <Link to={`/plan?id=${s.id}`}>
                {capital(s.what)}: {shortUrl(s.url, host)}
              </Link>
              , about {number(Math.round(s.gain))} clicks a month for {decimal(s.hours, 2)} h
            </p>
          ))}
        </>
      )}
    </>
  );
}
