import { Tooltip } from 'antd';
import type { Schema } from '../api/client';
import ui from './ui.module.css';
import styles from './plotMark.module.css';

export type Mark = Schema['MarkShare']['mark'];

const shapes: Record<Mark, string> = { covered: '■', planned: '▣', uncovered: '□', contested: '◩', declined: '–' };
export const marks = Object.keys(shapes) as Mark[];

/** The state of a cluster's coverage, by shape. */
export function PlotMark({ mark }: { mark: Mark }) {
  return (
    <Tooltip title={mark} mouseEnterDelay={0.4}>
      <span className={`${styles.mark} ${styles[mark]}`} role="img" aria-label={mark}>
        {shapes[mark]}
      </span>
    </Tooltip>
  );
}

/** What the shapes mean. */
export const PlotLegend = () => (
  <span className={`${ui.quiet} ${ui.legend}`}>{marks.map((mark) => `${shapes[mark]} ${mark}`).join('  ')}</span>
);
