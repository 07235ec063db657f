import { Button, Checkbox, Form, Input, Select } from 'antd';
import { useState } from 'react';
import { answer, api, type Schema } from '../api/client';
import { ChangeForm } from '../pieces/ChangeForm';
import { counted, number } from '../pieces/format';
import type { ListState } from '../pieces/useListState';
import { useSieves } from './filter';
import { JobProgress } from '../pieces/JobProgress';
import styles from './keywords.module.css';
import ui from '../pieces/ui.module.css';

type From = Schema['GatherFrom'];
type Way = From | 'paste';

const ways: { value: Way; label: string; says: string; field?: string; placeholder?: string }[] = [
  {
    value: 'ideas',
    label: 'Ideas for a seed',
    says: 'The research service names keywords around each seed, with their numbers.',
    field: 'Seeds, one a line',
    placeholder: 'sea kayak\ndry suit',
  },
  {
    value: 'suggestions',
    label: 'Suggestions',
    says: 'What people are offered while they type. “*” matches any words in the middle.',
    field: 'Beginnings, one a line',
    placeholder: 'kayak paddle\ncan you * in a kayak',
  },
  {
    value: 'rankings',
    label: 'Rankings of a site or page',
    says: 'What a rival’s site or one of its pages ranks for.',
    field: 'Hosts or pages, one a line',
    placeholder: 'rival.example\nhttps://rival.example/page',
  },
  {
    value: 'results',
    label: 'Captured results',
    says: 'Questions people also ask and related searches, from the results of what is in view.',
  },
  {
    value: 'performance',
    label: 'Search performance',
    says: 'The queries for which the site was seen over 90 days, with its own clicks and impressions.',
  },
  {
    value: 'paste',
    label: 'Paste',
    says: 'Keywords without numbers, one a line.',
    field: 'Keywords, one a line',
    placeholder: 'how to roll a kayak',
  },
];

const nothing = {
  text: '',
  containing: true,
  related: false,
  alphabet: false,
  questions: true,
  listId: undefined as number | undefined,
};

/** Brings keywords from services, results or the clipboard; each remembers its source. */
export function BringPane({
  close,
  list,
  selection,
  importFile,
}: {
  close: () => void;
  list: ListState;
  selection: Schema['KeywordSelection'];
  importFile: () => void;
}) {
  const { lists } = useSieves();
  const [way, setWay] = useState<Way>('ideas');
  const [jobId, setJobId] = useState<number>();
  const chosen = ways.find((w) => w.value === way)!;
  const bring = async ({ text, listId, ...options }: typeof nothing) => {
    setJobId(undefined);
    if (way === 'paste') return answer(api.POST('/api/keywords/paste', { body: { text, listId: listId ?? null } }));
    const job = await answer(
      api.POST('/api/keywords/gather', {
        body: {
          from: way,
          seeds: text.split('\n'),
          ...options,
          selection: way === 'results' ? selection : null,
          add: true,
          listId: listId ?? null,
        },
      }),
    );
    setJobId(job.id);
    return undefined;
  };
  const box = (name: keyof typeof nothing, label: string) => (
    <Form.Item name={name} valuePropName="checked">
      <Checkbox>{label}</Checkbox>
    </Form.Item>
  );
  return (
    <>
      <h2>Bring keywords</h2>
      <div className={styles.ways} role="radiogroup" aria-label="From where">
        {ways.map((w) => (
          <button
            key={w.value}
            role="radio"
            aria-checked={w.value === way}
            className={w.value === way ? `${ui.chip} ${ui.set}` : ui.chip}
            onClick={() => {
              setWay(w.value);
              setJobId(undefined);
            }}
          >
            {w.label}
          </button>
        ))}
        <button className={ui.chip} onClick={importFile}>
          File
        </button>
      </div>
      <p>{chosen.says}</p>
      <ChangeForm
        values={nothing}
        change={bring}
        done={(pasted) =>
          pasted &&
          `${counted(pasted.added, 'new keyword')}, ${number(pasted.known)} known${pasted.rejected > 0 ? `, ${counted(pasted.rejected, 'line')} without a keyword` : ''}.`
        }
        act="Bring"
        acts={<Button onClick={close}>Close</Button>}
        isReady={(form) => chosen.field === undefined || form.text.trim() !== ''}
        clears={way === 'paste' ? ['text'] : []}
      >
        {chosen.field && (
          <Form.Item name="text" label={chosen.field}>
            <Input.TextArea rows={4} placeholder={chosen.placeholder} />
          </Form.Item>
        )}
        <div className={ui.boxes}>
          {way === 'ideas' && (
            <>
              {box('containing', 'that contain the words')}
              {box('related', 'related ones')}
            </>
          )}
          {way === 'suggestions' && (
            <>
              {box('questions', 'with question words')}
              {box('alphabet', 'a run through the alphabet (26 requests for each)')}
            </>
          )}
          {way === 'results' && (
            <>
              {box('questions', 'questions people also ask')}
              {box('related', 'related searches')}
            </>
          )}
        </div>
        {lists.length > 0 && (
          <Form.Item name="listId" label="Also into the list">
            <Select allowClear placeholder="no list" options={lists.map((l) => ({ value: l.id, label: l.name }))} />
          </Form.Item>
        )}
      </ChangeForm>
      {jobId !== undefined && <Gathered jobId={jobId} list={list} />}
    </>
  );
}

function Gathered({ jobId, list }: { jobId: number; list: ListState }) {
  const { sources } = useSieves();
  return (
    <JobProgress jobId={jobId}>
      {(job) =>
        job.state === 'done' &&
        sources[0] && (
          <button className={ui.chip} onClick={() => list.set({ sourceId: sources[0]!.id, view: undefined })}>
            show what came
          </button>
        )
      }
    </JobProgress>
  );
}
