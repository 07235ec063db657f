import { useQuery } from '@tanstack/react-query';
import { Button, DatePicker, Input, InputNumber, Select } from 'antd';
import dayjs from 'dayjs';
import { useState } from 'react';
import { answer, api, ApiError, type Schema } from '../api/client';
import { useFormChange } from '../api/hooks';
import { keyOf } from '../api/keys';
import { number } from '../pieces/format';
import { Failed, Reading } from '../pieces/States';
import { capital } from './says';
import ui from '../pieces/ui.module.css';

/** Who works on the plan, how many hours a week, days off; and how long steps take. */
export function PeoplePane({ close }: { close: () => void }) {
  const settings = useQuery({
    queryKey: keyOf('plan settings'),
    queryFn: () => answer(api.GET('/api/plan/settings')),
  });
  if (settings.isError) return <Failed error={settings.error} retry={() => void settings.refetch()} />;
  if (!settings.data) return <Reading />;
  return <PeopleForm key={JSON.stringify(settings.data)} settings={settings.data} close={close} />;
}

function PeopleForm({ settings, close }: { settings: Schema['PlanSettingsView']; close: () => void }) {
  const [people, setPeople] = useState(settings.people);
  const [effort, setEffort] = useState(settings.effort);
  const [until, setUntil] = useState(settings.until);
  const save = useFormChange(
    () =>
      answer(
        api.PUT('/api/plan/settings', {
          body: {
            people,
            until: until ?? null,
            effort:
              JSON.stringify(effort) === JSON.stringify(settings.effort) && settings.isUsualEffort ? null : effort,
          },
        }),
      ),
    () => 'Saved. The roadmap is updated.',
  );
  const fault = save.error instanceof ApiError && save.error.field !== undefined ? save.error.message : undefined;
  const setPerson = (at: number, what: Partial<Schema['Person']>) =>
    setPeople(people.map((p, i) => (i === at ? { ...p, ...what } : p)));
  const nameOf = (kind: Schema['StepKind']) => capital(settings.kinds.find((k) => k.kind === kind)?.name ?? kind);
  return (
    <form
      className={ui.form}
      onSubmit={(event) => {
        event.preventDefault();
        save.mutate(undefined);
      }}
    >
      <h2>People and hours</h2>
      <p>
        The roadmap fills their weeks in the order of the steps. Without people it counts on a team with{' '}
        {settings.teamHours} hours a week.
      </p>
      {people.map((person, i) => (
        <div key={i}>
          <div className={ui.line}>
            <Input
              aria-label={`Name ${i + 1}`}
              value={person.name}
              placeholder="a name"
              onChange={(event) => setPerson(i, { name: event.target.value })}
            />
            <InputNumber
              aria-label={`Hours a week ${i + 1}`}
              min={0}
              max={168}
              value={person.hoursPerWeek}
              suffix="h"
              onChange={(hours) => setPerson(i, { hoursPerWeek: hours ?? 0 })}
            />
            <Button onClick={() => setPeople(people.filter((_, at) => at !== i))} aria-label={`Remove ${person.name}`}>
              Remove
            </Button>
          </div>
          <Select
            mode="tags"
            aria-label={`Days off ${i + 1}`}
            placeholder="days off, such as 2026-12-24"
            value={[...person.daysOff]}
            open={false}
            className={ui.full}
            onChange={(days: string[]) => setPerson(i, { daysOff: days.filter((d) => /^\d{4}-\d{2}-\d{2}$/.test(d)) })}
          />
        </div>
      ))}
      <Button onClick={() => setPeople([...people, { name: '', hoursPerWeek: 20, daysOff: [] }])}>Add a person</Button>
      <label>
        <span>End of the roadmap (optional)</span>
        <DatePicker
          aria-label="End of the roadmap"
          value={until ? dayjs(until) : null}
          onChange={(end) => setUntil(end ? end.format('YYYY-MM-DD') : null)}
        />
      </label>
      <h2>Hours by kind and words</h2>
      <table className={ui.facts}>
        <tbody>
          {effort.map((row, i) => (
            <tr key={i}>
              <td>
                {nameOf(row.kind)}
                <span className={ui.quiet}>{row.upTo ? `, up to ${number(row.upTo)} words` : ''}</span>
              </td>
              <td className={ui.num}>
                <InputNumber
                  size="small"
                  aria-label={`Hours to ${nameOf(row.kind)} ${row.upTo ?? ''}`}
                  min={0.05}
                  max={1000}
                  step={0.25}
                  value={row.hours}
                  onChange={(hours) =>
                    setEffort(effort.map((e, at) => (at === i ? { ...e, hours: hours ?? e.hours } : e)))
                  }
                />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {fault && <div className={ui.fault}>{fault}</div>}
      <div className={ui.acts}>
        <Button type="primary" htmlType="submit" loading={save.isPending}>
          Save
        </Button>
        <Button onClick={close}>Close</Button>
      </div>
    </form>
  );
}
