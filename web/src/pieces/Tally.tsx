import type { ReactNode } from 'react';
import type { Schema } from '../api/client';
import { decimal, number, percent } from './format';
import ui from './ui.module.css';

/** The bar below a table: how many rows are in view, and what they represent. */
export function Tally({
  tally,
  noun,
  keywords,
  demand = true,
  difficulty,
  atStake,
  captured,
  selected,
  children,
}: {
  tally: Schema['ListTally'] | undefined;
  noun: string;
  keywords?: boolean;
  demand?: boolean;
  difficulty?: boolean;
  atStake?: string;
  /** Tells the share of them that has a result list. */
  captured?: boolean;
  selected?: ReactNode;
  children?: ReactNode;
}) {
  if (!tally) return <span className={ui.quiet}>counting…</span>;
  return (
    <>
      <span>
        <b>{number(tally.rows)}</b> {tally.rows === 1 ? noun : `${noun}s`}
      </span>
      {keywords && (
        <span>
          <b>{number(tally.keywords)}</b> keywords
        </span>
      )}
      {demand && (
        <span>
          demand <b>{number(tally.demand)}</b> a month, estimated
        </span>
      )}
      {difficulty && (
        <span>
          mean difficulty <b>{decimal(tally.meanDifficulty, 0)}</b>
        </span>
      )}
      {captured && (
        <span>
          captured <b>{tally.rows > 0 ? percent(tally.captured / tally.rows) : '–'}</b>
        </span>
      )}
      {atStake && (
        <span>
          {atStake} <b>{number(tally.atStake)}</b> clicks a month
        </span>
      )}
      <span className={ui.gap} />
      {selected && <span className={ui.selection}>selected {selected}</span>}
      {children}
    </>
  );
}
