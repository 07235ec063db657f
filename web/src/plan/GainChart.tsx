import { LineChart } from 'echarts/charts';
import { GridComponent, TooltipComponent } from 'echarts/components';
import { init, use as register } from 'echarts/core';
import { SVGRenderer } from 'echarts/renderers';
import { useEffect, useRef } from 'react';
import type { Schema } from '../api/client';
import { day, number, shortDay } from '../pieces/format';
import styles from './plan.module.css';
import ui from '../pieces/ui.module.css';

register([LineChart, GridComponent, TooltipComponent, SVGRenderer]);

/** The expected gain week by week, as a band between low and high, with its numbers as a table. */
export default function GainChart({ gains }: { gains: readonly Schema['GainOfWeek'][] }) {
  const box = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const colour = (name: string) => getComputedStyle(document.documentElement).getPropertyValue(name).trim();
    const chart = init(box.current, undefined, { renderer: 'svg' });
    const line = { type: 'line' as const, symbol: 'none', silent: true };
    chart.setOption({
      animation: false,
      textStyle: { fontFamily: colour('--sans') },
      grid: { left: 52, right: 16, top: 10, bottom: 22 },
      tooltip: {
        trigger: 'axis',
        formatter: (points: unknown) => {
          const gain = gains[(points as { dataIndex: number }[])[0]?.dataIndex ?? 0]!;
          return `${day(gain.week)}<br>${number(Math.round(gain.expected))} clicks a month<br>${number(Math.round(gain.low))} to ${number(Math.round(gain.high))}`;
        },
      },
      xAxis: {
        type: 'category',
        boundaryGap: false,
        data: gains.map((g) => shortDay(g.week)),
        axisLabel: { color: colour('--ink2') },
        axisLine: { lineStyle: { color: colour('--rule') } },
      },
      yAxis: {
        type: 'value',
        axisLabel: { color: colour('--ink2'), formatter: (value: number) => number(value) },
        splitLine: { lineStyle: { color: colour('--rule2') } },
      },
      series: [
        { ...line, stack: 'band', data: gains.map((g) => g.low), lineStyle: { opacity: 0 } },
        {
          ...line,
          stack: 'band',
          data: gains.map((g) => g.high - g.low),
          lineStyle: { opacity: 0 },
          areaStyle: { color: colour('--jade1') },
        },
        { ...line, data: gains.map((g) => g.expected), lineStyle: { color: colour('--jade'), width: 2 } },
      ],
    });
    const observer = new ResizeObserver(() => chart.resize());
    observer.observe(box.current!);
    return () => {
      observer.disconnect();
      chart.dispose();
    };
  }, [gains]);
  const last = gains.at(-1);
  return (
    <figure className={ui.flush}>
      <figcaption className={ui.second}>
        Clicks a month that are gained by the end of each week: expected, and between positions 5 and 2
        {last && `; ${number(Math.round(last.low))} to ${number(Math.round(last.high))} in the end`}
      </figcaption>
      <div ref={box} className={styles.chart} aria-hidden />
      <details className={ui.second}>
        <summary>As a table</summary>
        <table className={ui.facts}>
          <thead>
            <tr>
              <th>Week</th>
              <th className={ui.num}>Low</th>
              <th className={ui.num}>Expected</th>
              <th className={ui.num}>High</th>
            </tr>
          </thead>
          <tbody>
            {gains.map((g) => (
              <tr key={g.week}>
                <td>{day(g.week)}</td>
                <td className={ui.num}>{number(Math.round(g.low))}</td>
                <td className={ui.num}>{number(Math.round(g.expected))}</td>
                <td className={ui.num}>{number(Math.round(g.high))}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </details>
    </figure>
  );
}
