import type { Schema } from '../api/client';
import { number } from '../pieces/format';
import { verdictMark } from './useChanges';
import ui from '../pieces/ui.module.css';

const signed = (value: number) =>
  `${Math.round(value) > 0 ? '+' : Math.round(value) < 0 ? '−' : ''}${number(Math.abs(Math.round(value)))}`;

/** A verdict in a word, with a sign that tells it apart without colour. */
export function Verdict({ effect }: { effect: Schema['EffectView'] | null }) {
  if (!effect) return <span className={ui.second}>measuring…</span>;
  const says = `${verdictMark[effect.verdict]} ${effect.name}`;
  if (effect.verdict === 'helped') return <b title={effect.says}>{says}</b>;
  return (
    <span className={effect.verdict === 'hurt' ? ui.clay : ui.second} title={effect.says}>
      {says}
    </span>
  );
}

/** Clicks that a change brought, "+57"; nothing where that cannot be told. */
export const gained = (effect: Schema['EffectView'] | null) =>
  effect?.clicks === null || effect?.clicks === undefined ? '' : signed(effect.clicks);

/** The 95 % interval, "+21 to +93". */
export const interval = (effect: Schema['EffectView'] | null) =>
  effect?.low === null || effect?.low === undefined || effect.high === null
    ? ''
    : `${signed(effect.low)} to ${signed(effect.high)}`;
