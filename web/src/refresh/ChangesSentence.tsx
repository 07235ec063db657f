import { DatePicker, Popover } from 'antd';
import dayjs from 'dayjs';
import { Choice } from '../pieces/FilterSentence';
import type { ListState } from '../pieces/useListState';
import { inSentence, words } from '../api/words';
import type { Schema } from '../api/client';
import ui from '../pieces/ui.module.css';

/** Which changes are shown, as a sentence. */
export function ChangesSentence({ list }: { list: ListState }) {
  const [from, to] = [list.text('from'), list.text('to')];
  return (
    <div className={ui.says}>
      Changes of pages:
      <Choice
        label="Kind"
        any="of any kind"
        value={list.text('kind') as Schema['ChangeKind'] | undefined}
        options={inSentence(words.changeKinds)}
        onChange={(kind) => list.set({ kind })}
      />
      <Choice
        label="Verdict"
        any="with any outcome"
        value={list.text('verdict') as Schema['EffectVerdict'] | undefined}
        options={inSentence(words.effectVerdicts)}
        onChange={(verdict) => list.set({ verdict })}
      />
      made
      <Popover
        trigger="click"
        content={
          <DatePicker.RangePicker
            aria-label="First and last day"
            value={from && to ? [dayjs(from), dayjs(to)] : null}
            onChange={(days) =>
              list.set({ from: days?.[0]?.format('YYYY-MM-DD'), to: days?.[1]?.format('YYYY-MM-DD') })
            }
          />
        }
      >
        <button className={from ? `${ui.chip} ${ui.set}` : ui.chip} aria-label="Days">
          {from && to ? `from ${from} to ${to}` : 'on any day'}
        </button>
      </Popover>
      {list.numeric('page') !== undefined && (
        <button className={`${ui.chip} ${ui.set}`} onClick={() => list.set({ page: undefined })}>
          of one page ×
        </button>
      )}
    </div>
  );
}
