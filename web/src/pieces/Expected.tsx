import { number, percent } from './format';
import ui from './ui.module.css';

/** How many keywords a cluster or topic has, and how many more are expected in it. */
export function KeywordCount({ captured, expected }: { captured: number; expected: number }) {
  if (expected === 0) return number(captured);
  return (
    <span title={`${number(captured)} captured${andExpected(expected)}`}>
      {number(captured)} <span className={ui.second}>+{number(expected)}</span>
    </span>
  );
}

/** “ and 3 more that are expected without results”; empty for none. */
export const andExpected = (count: number) =>
  count === 0 ? '' : ` and ${number(count)} more that ${count === 1 ? 'is' : 'are'} expected without results`;

/** Before the cluster of a keyword that is in it by expectation alone. */
export const ExpectedMark = () => (
  <abbr className={ui.second} title="Expected in this cluster: it was not captured, others speak for it">
    ~{' '}
  </abbr>
);

/** A certainty is never more than it can be known. */
export const certainty = (probability: number) => (probability > 0.99 ? 'over 99 %' : percent(probability));
