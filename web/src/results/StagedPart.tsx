import { useQuery } from '@tanstack/react-query';
import { Button } from 'antd';
import { Link } from 'react-router';
import { answer, api, type Schema } from '../api/client';
import { hasEnded } from '../api/hooks';
import { keyOf } from '../api/keys';
import { counted, money, number, percent } from '../pieces/format';
import { Failed } from '../pieces/States';
import ui from '../pieces/ui.module.css';
import chartsStyles from '../pieces/charts.module.css';

function useStages() {
  return useQuery({
    queryKey: keyOf('stages'),
    queryFn: () => answer(api.GET('/api/captures/stages')),
    refetchInterval: (query) => {
      const capture = query.state.data?.capture;
      return capture && !hasEnded(capture.job) ? 1_000 : false;
    },
  });
}

/** How the project's keywords stand, where some are expected without a result list. */
export function StagesTally({ brief = false }: { brief?: boolean }) {
  const stages = useStages();
  if (!stages.data?.capture) return null;
  const { captured, expected, unknown } = stages.data;
  return brief ? (
    <span>
      <b>{number(expected)}</b> more expected
    </span>
  ) : (
    <span>
      in all <b>{number(captured)}</b> captured, <b>{number(expected)}</b> expected, <b>{number(unknown)}</b> unknown
    </span>
  );
}

/** The newest capture in stages: certainty against money spent, what was saved, and what the audit found. */
export function StagedPart({ captureRest }: { captureRest?: () => void }) {
  const stages = useStages();
  if (stages.isError) return <Failed error={stages.error} retry={() => void stages.refetch()} />;
  const capture = stages.data?.capture;
  if (!capture || capture.batches.length === 0) return null;
  const last = capture.batches[capture.batches.length - 1]!;
  return (
    <section aria-label="Capture in stages">
      <h3>Capture in stages</h3>
      <Curve capture={capture} />
      <table className={ui.facts}>
        <tbody>
          <tr>
            <td>Captured</td>
            <td className={ui.num}>
              {number(last.captured)} for {money(last.captured * capture.price, capture.currency)}
            </td>
          </tr>
          <tr>
            <td>Expected, {percent(capture.certainty)} certainty asked for</td>
            <td className={ui.num}>
              <Link to="/results?show=expected">{number(last.expected)}</Link>
            </td>
          </tr>
          <tr>
            <td>Clusters expected to match those from all results</td>
            <td className={ui.num}>{percent(capture.same)}</td>
          </tr>
          <tr>
            <td>Not known yet</td>
            <td className={ui.num}>{number(last.unknown)}</td>
          </tr>
          <tr>
            <td>Saved on expected keywords</td>
            <td className={ui.num}>
              <b>{money(capture.saved, capture.currency)}</b>
            </td>
          </tr>
        </tbody>
      </table>
      <Audit capture={capture} />
      {captureRest && capture.audit && capture.saved > 0 && (
        <div className={ui.acts}>
          <Button onClick={captureRest}>Capture the rest for {money(capture.saved, capture.currency)}</Button>
        </div>
      )}
      <hr />
    </section>
  );
}

function Audit({ capture }: { capture: Schema['StagedCaptureView'] }) {
  const { audit } = capture;
  if (!audit)
    return capture.phase === 'auditing' ? (
      <p>Some of the expected keywords, drawn by chance, are being captured as an audit.</p>
    ) : null;
  return (
    <>
      <p>
        Audit: {number(audit.right)} of {counted(audit.audited, 'expected keyword')} were in the cluster that was
        expected. Of all, at least <b>{percent(audit.lower)}</b> are (95 % confidence).
      </p>
      {!capture.isBorneOut && (
        <p className={ui.clay}>
          {audit.right === audit.audited
            ? `All were right, but ${number(audit.audited)} are too few to prove ${percent(capture.certainty)}.`
            : `That does not prove ${percent(capture.certainty)}.`}{' '}
          Capture the rest, capture in stages again with more certainty, or go on with what is there.
        </p>
      )}
    </>
  );
}

const width = 430;
const height = 130;
const left = 44;
const bottom = 22;

/** The share of keywords that are captured or expected, by what was spent. */
function Curve({ capture }: { capture: Schema['StagedCaptureView'] }) {
  const last = capture.batches[capture.batches.length - 1]!;
  const all = Math.max(1, capture.wanted);
  const known = (batch: Schema['StagedBatch']) => 1 - batch.unknown / all;
  const x = (captured: number) => left + (captured / Math.max(1, last.captured)) * (width - left - 10);
  const y = (share: number) => 8 + (1 - share) * (height - bottom - 8);
  const cost = (captured: number) => money(captured * capture.price, capture.currency);
  return (
    <figure className={chartsStyles.picture}>
      <figcaption>Keywords captured or expected, by money spent</figcaption>
      <svg
        viewBox={`0 0 ${width} ${height}`}
        role="img"
        aria-label={`${percent(known(last))} of ${counted(all, 'keyword')} known for ${cost(last.captured)}`}
      >
        {[0, 0.5, 1].map((share) => (
          <g key={share}>
            <line x1={left} x2={width - 10} y1={y(share)} y2={y(share)} className={chartsStyles.rule} />
            <text x={left - 4} y={y(share) + 4} textAnchor="end">
              {percent(share)}
            </text>
          </g>
        ))}
        <text x={left} y={height - 5}>
          {cost(0)}
        </text>
        <text x={width - 10} y={height - 5} textAnchor="end">
          {cost(last.captured)}
        </text>
        <polyline
          className={`${ui.line} ${chartsStyles.s0}`}
          points={[`${x(0)},${y(0)}`, ...capture.batches.map((b) => `${x(b.captured)},${y(known(b))}`)].join(' ')}
        />
      </svg>
    </figure>
  );
}
