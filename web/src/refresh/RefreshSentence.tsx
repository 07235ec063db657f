import { DatePicker, Dropdown, Popover } from 'antd';
import dayjs from 'dayjs';
import { Bound, Choice, Typed } from '../pieces/FilterSentence';
import type { ListState } from '../pieces/useListState';
import { words } from '../api/words';
import { marksOf } from './says';
import { pageTypes, periods, type RefreshQuery } from './useRefresh';
import { useTopicNames } from '../topics/TopicSelect';
import ui from '../pieces/ui.module.css';

/** Several marks at once, all of which a query must have. */
function Marks({
  label,
  any,
  value,
  onChange,
}: {
  label: string;
  any: string;
  value: string | undefined;
  onChange: (value: string | undefined) => void;
}) {
  const chosen = value?.split(',') ?? [];
  const toggle = (key: string) => {
    const next = chosen.includes(key) ? chosen.filter((c) => c !== key) : [...chosen, key];
    onChange(next.length === 0 ? undefined : next.join(','));
  };
  const says = chosen.length === 0 ? any : marksOf(chosen);
  return (
    <Dropdown
      trigger={['click']}
      menu={{
        selectable: true,
        multiple: true,
        selectedKeys: chosen,
        items: words.queryMarks.filter((m) => m.value !== 'irrelevant').map((m) => ({ key: m.value, label: m.name })),
        onClick: ({ key }) => toggle(key),
      }}
    >
      <button className={chosen.length === 0 ? ui.chip : `${ui.chip} ${ui.set}`} aria-label={`${label}: ${says}`}>
        {says}
      </button>
    </Dropdown>
  );
}

/** Which queries or pages are shown, and over which days, as a sentence. */
export function RefreshSentence({
  list,
  query,
  view,
}: {
  list: ListState;
  query: RefreshQuery;
  view: 'pages' | 'queries';
}) {
  const topics = useTopicNames();
  const [from, to] = [list.text('from'), list.text('to')];
  return (
    <div className={ui.says}>
      {view === 'pages' ? 'Pages with queries' : 'Queries'} marked
      <Marks label="Marks" any="in any way" value={query.Marks} onChange={(m) => list.set({ marks: m })} />
      <Marks
        label="Without marks"
        any="without exception"
        value={query.WithoutMarks}
        onChange={(not) => list.set({ not })}
      />
      {query.PageId !== undefined && (
        <button className={`${ui.chip} ${ui.set}`} onClick={() => list.set({ page: undefined })}>
          of one page ×
        </button>
      )}
      {query.ClusterId !== undefined && (
        <button className={`${ui.chip} ${ui.set}`} onClick={() => list.set({ cluster: undefined })}>
          of one cluster ×
        </button>
      )}
      in
      {from && to ? (
        <button className={`${ui.chip} ${ui.set}`} onClick={() => list.set({ from: undefined, to: undefined })}>
          {from} to {to} ×
        </button>
      ) : (
        <Choice
          label="Period"
          any="the last 28 days"
          value={list.text('days') as '90' | undefined}
          options={periods as unknown as { value: '90'; says: string }[]}
          onChange={(days) => list.set({ days })}
        />
      )}
      <Popover
        trigger="click"
        content={
          <DatePicker.RangePicker
            aria-label="First and last day"
            value={from && to ? [dayjs(from), dayjs(to)] : null}
            onChange={(days) =>
              list.set({ from: days?.[0]?.format('YYYY-MM-DD'), to: days?.[1]?.format('YYYY-MM-DD'), days: undefined })
            }
          />
        }
      >
        <button className={ui.chip} aria-label="Other days">
          other days
        </button>
      </Popover>
      compared with
      <Choice
        label="Compared with"
        any="the days before"
        value={list.text('compare') as 'year' | undefined}
        options={[{ value: 'year', says: 'the year before' }]}
        onChange={(compare) => list.set({ compare })}
      />
      in
      <Typed
        label="Folder"
        any="every folder"
        placeholder="/guides"
        value={query.Folder}
        says={(v) => v}
        onChange={(folder) => list.set({ folder })}
      />
      <Choice
        label="Page type"
        any="any type of page"
        value={query.PageType}
        options={pageTypes}
        onChange={(type) => list.set({ type })}
      />
      <Choice
        label="Topic"
        any="any topic"
        value={list.text('topic')}
        options={topics.map((t) => ({ value: String(t.id), says: t.name }))}
        onChange={(topic) => list.set({ topic })}
      />
      <Typed
        label="With words"
        any="any words"
        placeholder="words, separated by commas"
        value={query.In}
        says={(v) => `with ${v}`}
        onChange={(words) => list.set({ in: words })}
      />
      <Typed
        label="Without words"
        any="no words out"
        placeholder="words, separated by commas"
        value={query.Out}
        says={(v) => `without ${v}`}
        onChange={(out) => list.set({ out })}
      />
      <Bound
        label="Least at stake"
        any="any clicks at stake"
        value={query.LeastAtStake}
        says={(v) => `${v} or more at stake`}
        onChange={(stake) => list.set({ stake })}
      />
      <Bound
        label="Least impressions"
        any="any impressions"
        value={query.LeastImpressions}
        says={(v) => `${v} or more impressions`}
        onChange={(impressions) => list.set({ impressions })}
      />
      <Bound
        label="Age"
        any="of any age"
        value={query.OlderThan}
        says={(v) => `unchanged for ${v} months`}
        onChange={(older) => list.set({ older })}
      />
      {view === 'pages' ? (
        <Choice
          label="Fading"
          any="fading or not"
          value={list.text('fading') as '1' | undefined}
          options={[{ value: '1', says: 'fading' }]}
          onChange={(fading) => list.set({ fading })}
        />
      ) : (
        <Choice
          label="Irrelevant"
          any="not ignored"
          value={list.text('ignored') as '1' | undefined}
          options={[{ value: '1', says: 'ignored' }]}
          onChange={(ignored) => list.set({ ignored })}
        />
      )}
    </div>
  );
}
