import { useQuery } from '@tanstack/react-query';
import { Button, Checkbox, Form } from 'antd';
import { useState } from 'react';
import { answer, api, type Schema } from '../api/client';
import { useChange } from '../api/hooks';
import { keyOf } from '../api/keys';
import { ChangeForm } from '../pieces/ChangeForm';
import { NumberField } from '../pieces/NumberField';
import { counted, decimal, number, percent } from '../pieces/format';
import { Failed, Reading } from '../pieces/States';
import ui from '../pieces/ui.module.css';
import chartsStyles from '../pieces/charts.module.css';
import styles from './findings.module.css';

const width = 340;
const height = 190;
const left = 34;
const bottom = 24;
const positions = 20;

/** The share of clicks at each position, as everything here reckons: what was seen, what was fitted to it, and the default. */
export function CurvePane() {
  const [editing, setEditing] = useState(false);
  const curve = useQuery({ queryKey: keyOf('curve'), queryFn: () => answer(api.GET('/api/curve')) });
  if (curve.isError) return <Failed error={curve.error} retry={() => void curve.refetch()} />;
  if (!curve.data) return <Reading />;
  const view = curve.data;
  return (
    <>
      <h2>Click curve</h2>
      <p>
        {view.isFitted
          ? `Fitted to ${counted(view.queries, 'query', 'queries')} of the site’s own search performance, brand queries left out.`
          : view.queries === 0
            ? `The default, from memory. It is fitted to the site’s own search performance once it has ${number(view.fewestClicks)} clicks from ${number(view.fewestQueries)} queries; bring it on the Site screen.`
            : view.queries < view.fewestQueries || view.clicks < view.fewestClicks
              ? `The default, from memory: search performance has ${counted(view.clicks, 'click')} from ${counted(view.queries, 'query', 'queries')}; ${number(view.fewestClicks)} from ${number(view.fewestQueries)} are needed to fit it.`
              : 'Entered by you; the fit to the site’s own search performance is turned off.'}
      </p>
      <Picture view={view} />
      {view.isFitted && <Supports view={view} />}
      {editing ? (
        <CurveForm view={view} close={() => setEditing(false)} />
      ) : (
        <button className={ui.chip} onClick={() => setEditing(true)}>
          change the curve
        </button>
      )}
    </>
  );
}

/** How many queries each position rests on, and how much of it is the default. */
const Supports = ({ view }: { view: Schema['CurveView'] }) => (
  <details className={ui.evidence}>
    <summary>What it rests on</summary>
    <table className={ui.facts}>
      <thead>
        <tr>
          <th className={ui.num}>Position</th>
          <th className={ui.num}>Share of clicks</th>
          <th className={ui.num}>Queries</th>
          <th className={ui.num}>Of the default</th>
        </tr>
      </thead>
      <tbody>
        {view.supports.map((s) => (
          <tr key={s.position}>
            <td className={ui.num}>{s.position}</td>
            <td className={ui.num}>{decimal(100 * s.share, 1)} %</td>
            <td className={ui.num}>{number(s.queries)}</td>
            <td className={ui.num}>{percent(s.weightOfDefault)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  </details>
);

function Picture({ view }: { view: Schema['CurveView'] }) {
  const seen = view.seen.map((s) => ({ ...s, share: s.impressions === 0 ? 0 : s.clicks / s.impressions }));
  const top = Math.ceil(Math.max(0.05, ...view.used, ...view.byHand, ...seen.map((s) => s.share)) * 20) / 20;
  const most = Math.max(1, ...seen.map((s) => s.impressions));
  const x = (position: number) => left + ((position - 1) / (positions - 1)) * (width - left - 8);
  const y = (share: number) => 8 + (1 - share / top) * (height - bottom - 8);
  const line = (shares: readonly number[]) => shares.map((s, i) => `${x(i + 1)},${y(s)}`).join(' ');
  const ticks = [0, top / 2, top];
  return (
    <figure className={chartsStyles.picture}>
      <svg
        viewBox={`0 0 ${width} ${height}`}
        role="img"
        aria-label={`Share of clicks at positions 1 to ${positions}; position 1: ${Math.round(view.used[0]! * 100)} percent`}
      >
        {ticks.map((t) => (
          <g key={t}>
            <line x1={left} x2={width - 8} y1={y(t)} y2={y(t)} className={chartsStyles.rule} />
            <text x={left - 4} y={y(t) + 4} textAnchor="end">
              {Math.round(t * 100)} %
            </text>
          </g>
        ))}
        {[1, 5, 10, 15, 20].map((p) => (
          <text key={p} x={x(p)} y={height - 6} textAnchor="middle">
            {p}
          </text>
        ))}
        <polyline points={line(view.byHand)} className={chartsStyles.before} />
        <polyline points={line(view.used)} className={chartsStyles.now} />
        {seen.map((s) => (
          <circle
            key={s.position}
            cx={x(s.position)}
            cy={y(s.share)}
            r={2 + 4 * Math.sqrt(s.impressions / most)}
            className={chartsStyles.seen}
          >
            <title>
              position {s.position}: {number(s.clicks)} clicks of {number(s.impressions)} impressions, {s.queries}{' '}
              queries
            </title>
          </circle>
        ))}
      </svg>
      <figcaption className={ui.second}>
        Share of clicks by position. Full line: as it is used; broken line:{' '}
        {view.settings.values ? 'entered' : 'default'}
        {seen.length > 0 && '; circles: what queries at about that position got, larger for more impressions'}.
      </figcaption>
    </figure>
  );
}

const saveCurve = (settings: Schema['CurveSettings']) => answer(api.PUT('/api/settings/curve', { body: settings }));

function CurveForm({ view, close }: { view: Schema['CurveView']; close: () => void }) {
  const saved = () => {
    close();
    return 'Curve saved.';
  };
  const reset = useChange(() => saveCurve({ values: null, isFitted: true }), saved);
  const values = view.settings.values ?? view.defaultValues;
  const rounded = values.map((value) => Math.round(value * 1000) / 10);
  return (
    <ChangeForm
      values={{ isFitted: view.settings.isFitted, shares: rounded }}
      // What is left as it is shown stays as exact as it is.
      change={({ isFitted, shares }) =>
        saveCurve({ isFitted, values: shares.map((share, i) => (share === rounded[i] ? values[i]! : share / 100)) })
      }
      done={saved}
      act="Use this curve"
      acts={
        <>
          <Button loading={reset.isPending} onClick={() => reset.mutate(undefined)}>
            Back to the default
          </Button>
          <Button onClick={close}>Cancel</Button>
        </>
      }
    >
      <Form.Item name="isFitted" valuePropName="checked">
        <Checkbox>fit it to search performance where there is enough</Checkbox>
      </Form.Item>
      <div className={styles.curveValues}>
        {values.map((_, i) => (
          <Form.Item key={i} name={['shares', i]} label={placeOf(i)}>
            <NumberField
              size="small"
              min={0}
              max={100}
              step={0.1}
              suffix="%"
              aria-label={`Share of clicks, position ${placeOf(i)}`}
            />
          </Form.Item>
        ))}
      </div>
    </ChangeForm>
  );
}

/** Which positions the share at a place of the settings is for. */
const placeOf = (at: number) => (at < 10 ? String(at + 1) : at === 10 ? '11 to 20' : 'further down');
