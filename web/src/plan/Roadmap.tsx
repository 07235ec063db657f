import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useVirtualizer } from '@tanstack/react-virtual';
import { lazy, Suspense, useEffect, useMemo, useRef, useState, type KeyboardEvent } from 'react';
import { answer, api } from '../api/client';
import { keyOf } from '../api/keys';
import { useKeyHelp } from '../app/keys';
import { counted, decimal, number, shortDay, shortUrl } from '../pieces/format';
import { Failed, NotYet, Reading } from '../pieces/States';
import { lanesOf, type Block } from './lanes';
import styles from './plan.module.css';
import { capital, weeksBetween, weeksLater, type Bar } from './says';
import { useStepChange, type StepQuery } from './useSteps';
import ui from '../pieces/ui.module.css';

const GainChart = lazy(() => import('./GainChart'));

const left = 130;
const weekWidth = 108;
const laneHeight = 46;

const help = [
  { keys: '← →', does: 'previous step, next step' },
  { keys: 'Shift ← →', does: 'move the step by a week' },
  { keys: 'Delete', does: 'let the roadmap choose its week again' },
];

/** Steps week by week: people or topics down, weeks across. */
export function Roadmap({
  query,
  selected,
  onSelect,
  host,
  onTally,
}: {
  query: StepQuery;
  selected: number | undefined;
  onSelect: (id: number) => void;
  host: string | undefined;
  onTally: (tally: React.ReactNode) => void;
}) {
  const [by, setBy] = useState<'person' | 'topic'>('person');
  useKeyHelp(help);
  const roadmap = useQuery({
    queryKey: keyOf('roadmap', query),
    queryFn: () => answer(api.GET('/api/plan/roadmap', { params: { query: { ...query, search: query.Search } } })),
    placeholderData: keepPreviousData,
  });
  const change = useStepChange();
  const scroller = useRef<HTMLDivElement>(null);
  const [over, setOver] = useState<number>();
  const data = roadmap.data;
  const lanes = useMemo(() => (data ? lanesOf(data, by) : []), [data, by]);
  const rows = lanes.flatMap((lane) => lane.rows.map((bars, i) => ({ lane, bars, isFirst: i === 0 })));
  // eslint-disable-next-line react-hooks/incompatible-library -- nothing here needs memoizing
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => laneHeight,
    overscan: 6,
    paddingStart: 30,
  });
  const across = useVirtualizer({
    horizontal: true,
    count: data?.weeks.length ?? 0,
    getScrollElement: () => scroller.current,
    estimateSize: () => weekWidth,
    overscan: 4,
    paddingStart: left,
  });
  useEffect(() => {
    if (!data) return;
    const missing = data.notFitting.reduce((sum, s) => sum + s.gain, 0);
    onTally(
      <>
        <span>
          <b>{number(data.bars.length)}</b> steps in {counted(data.weeks.length, 'week')}
        </span>
        <span>
          <b>
            {decimal(
              data.bars.reduce((sum, s) => sum + s.hours, 0),
              1,
            )}
          </b>{' '}
          hours
        </span>
        <span>
          gain <b>{number(Math.round(data.gains.at(-1)?.expected ?? 0))}</b> clicks a month
        </span>
        {data.notFitting.length > 0 && (
          <span className={ui.clay}>
            {counted(data.notFitting.length, 'step')} {data.notFitting.length === 1 ? 'does' : 'do'} not fit,{' '}
            {number(Math.round(missing))} clicks
          </span>
        )}
        <span className={ui.gap} />
        for prioritising, not a forecast
      </>,
    );
  }, [data, onTally]);
  if (roadmap.isError) return <Failed error={roadmap.error} retry={() => void roadmap.refetch()} />;
  if (!data) return <Reading />;
  if (data.bars.length + data.notFitting.length === 0)
    return (
      <NotYet title="Nothing to put into weeks">
        Steps that are to do are shown here week by week. Accept findings or plan pages, or remove a condition above.
      </NotYet>
    );
  const first = data.weeks[0]!;
  const weeks = across.getVirtualItems();
  const [from, to] = [data.weeks[weeks[0]?.index ?? 0]!, data.weeks[weeks.at(-1)?.index ?? 0]!];
  const order = data.bars;
  const move = (step: Bar, weeks: number) =>
    change.mutate({ ids: [step.id], week: weeksLater(step.first!, weeks), version: step.version });
  const onKeyDown = (event: KeyboardEvent) => {
    const at = order.findIndex((s) => s.id === selected);
    const step = order[at];
    if (event.key === 'ArrowRight' || event.key === 'ArrowLeft') {
      const by = event.key === 'ArrowRight' ? 1 : -1;
      if (event.shiftKey) {
        if (step) move(step, by);
      } else {
        const next = order[Math.max(0, Math.min(order.length - 1, at + by))];
        if (next) {
          onSelect(next.id);
          const row = rows.findIndex((r) => r.bars.some((b) => b.steps.some((s) => s.id === next.id)));
          if (row >= 0) virtual.scrollToIndex(row);
          across.scrollToIndex(data.weeks.indexOf(next.first!));
        }
      }
    } else if (event.key === 'Delete' && step?.week) change.mutate({ ids: [step.id], week: '', version: step.version });
    else return;
    event.preventDefault();
  };
  const days = (Date.now() - Date.parse(first)) / 86_400_000;
  return (
    <>
      <div className={ui.says}>
        Weeks across, down by{' '}
        <button className={`${ui.chip} ${ui.set}`} onClick={() => setBy(by === 'person' ? 'topic' : 'person')}>
          {by}
        </button>
        {data.displaced.length > 0 && (
          <span className={`${ui.second} ${ui.cut}`}>
            Fixed dates push back {counted(data.displaced.length, 'step')}, such as{' '}
            {data.displaced
              .slice(0, 2)
              .map(
                (d) =>
                  `${d.what} ${shortUrl(d.url, host)} ${d.weeks === 0 ? 'out of the roadmap' : `by ${counted(d.weeks, 'week')}`}`,
              )
              .join(', ')}
          </span>
        )}
      </div>
      <div
        ref={scroller}
        className={styles.roadmap}
        data-list
        tabIndex={0}
        role="application"
        aria-label="Roadmap, weeks across"
        onKeyDown={onKeyDown}
      >
        <div
          className={styles.canvas}
          style={{ width: left + data.weeks.length * weekWidth, height: virtual.getTotalSize() }}
        >
          <div className={styles.weeks}>
            {weeks.map(({ index, start }) => (
              <div
                key={index}
                className={`${styles.week} ${over === index ? styles.over : ''}`}
                style={{ left: start, width: weekWidth }}
              >
                {shortDay(data.weeks[index]!)}
              </div>
            ))}
          </div>
          {days >= 0 && <div className={styles.today} style={{ left: left + (days / 7) * weekWidth }} title="today" />}
          {virtual.getVirtualItems().map((item) => {
            const row = rows[item.index]!;
            return (
              <div
                key={item.key}
                className={styles.lane}
                style={{ top: item.start, height: laneHeight }}
                onDragOver={(event) => {
                  event.preventDefault();
                  const box = event.currentTarget.getBoundingClientRect();
                  setOver(Math.floor((event.clientX - box.left - left) / weekWidth));
                }}
                onDrop={(event) => {
                  event.preventDefault();
                  setOver(undefined);
                  const ids = event.dataTransfer.getData('text/plain').split(' ').map(Number);
                  const step = order.find((s) => s.id === ids[0]);
                  const box = event.currentTarget.getBoundingClientRect();
                  const week = Math.floor((event.clientX - box.left - left) / weekWidth);
                  if (!step || week < 0) return;
                  const owner = by === 'person' && row.lane.owner !== step.owner ? row.lane.owner : undefined;
                  change.mutate({
                    ids,
                    week: weeksLater(first, week),
                    ...(ids.length === 1 && { version: step.version }),
                    ...(owner !== undefined && { owner }),
                  });
                }}
              >
                <div className={styles.who}>
                  {row.isFirst && (
                    <>
                      <b title={row.lane.name}>{row.lane.name}</b>
                      <span className={ui.quiet}>{row.lane.says}</span>
                    </>
                  )}
                </div>
                {row.bars
                  .filter((block) => block.first <= to && block.last >= from)
                  .map((block) => (
                    <BarButton
                      key={block.steps[0]!.id}
                      block={block}
                      host={host}
                      start={weeksBetween(first, block.first)}
                      weeks={weeksBetween(block.first, block.last) + 1}
                      selected={selected}
                      onSelect={onSelect}
                    />
                  ))}
              </div>
            );
          })}
        </div>
      </div>
      <div className={styles.below}>
        <Suspense fallback={<Reading />}>
          <GainChart gains={data.gains} />
        </Suspense>
      </div>
    </>
  );
}

function BarButton({
  block,
  host,
  start,
  weeks,
  selected,
  onSelect,
}: {
  block: Block;
  host: string | undefined;
  start: number;
  weeks: number;
  selected: number | undefined;
  onSelect: (id: number) => void;
}) {
  const { steps } = block;
  const step = steps[0]!;
  const at = steps.findIndex((s) => s.id === selected);
  const has = [
    styles.bar,
    step.status !== 'toDo' && styles.begun,
    (step.due ?? step.week) && styles.fixed,
    step.isLate && styles.late,
    at >= 0 && styles.sel,
  ];
  const says =
    steps.length > 1
      ? `${capital(step.what)}: ${steps.length} pages`
      : `${capital(step.what)}: ${shortUrl(step.url, host)}`;
  const state = `${step.statusName}${step.isLate ? ', late' : step.due ? ', due' : step.week ? ', put here' : ''}`;
  const hours = steps.reduce((sum, s) => sum + s.hours, 0);
  return (
    <button
      tabIndex={-1}
      draggable
      className={has.filter(Boolean).join(' ')}
      style={{ left: left + start * weekWidth + 2, width: weeks * weekWidth - 4, top: 3 }}
      title={`${steps.length > 1 ? steps.map((s) => shortUrl(s.url, host)).join(', ') : says}, ${state}, ${decimal(hours, 2)} hours`}
      aria-pressed={at >= 0}
      onClick={() => onSelect(steps[(at + 1) % steps.length]!.id)}
      onDragStart={(event) => event.dataTransfer.setData('text/plain', steps.map((s) => s.id).join(' '))}
    >
      <b>{says}</b>
      <span>{state}</span>
    </button>
  );
}
