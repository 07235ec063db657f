import { useQuery } from '@tanstack/react-query';
import { Button, DatePicker, Form, Input, Select } from 'antd';
import dayjs, { type Dayjs } from 'dayjs';
import { answer, api, type Schema } from '../api/client';
import { keyOf } from '../api/keys';
import { ChangeForm } from '../pieces/ChangeForm';
import { NumberField } from '../pieces/NumberField';
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
  const nameOf = (kind: Schema['StepKind']) => capital(settings.kinds.find((k) => k.kind === kind)?.name ?? kind);
  const isSame = (effort: Schema['PlanSettingsView']['effort']) =>
    JSON.stringify(effort) === JSON.stringify(settings.effort);
  return (
    <ChangeForm
      values={{ people: settings.people, effort: settings.effort, until: settings.until }}
      change={({ people, effort, until }) =>
        answer(
          api.PUT('/api/plan/settings', {
            body: { people, until: until ?? null, effort: isSame(effort) && settings.isUsualEffort ? null : effort },
          }),
        )
      }
      done={() => 'Saved. The roadmap is updated.'}
      act="Save"
      acts={<Button onClick={close}>Close</Button>}
    >
      <h2>People and hours</h2>
      <p>
        The roadmap fills their weeks in the order of the steps. Without people it counts on a team with{' '}
        {settings.teamHours} hours a week.
      </p>
      <Form.List name="people">
        {(people, { add, remove }) => (
          <>
            {people.map(({ key, name }) => (
              <div key={key}>
                <div className={ui.line}>
                  <Form.Item name={[name, 'name']} noStyle>
                    <Input aria-label={`Name ${name + 1}`} placeholder="a name" />
                  </Form.Item>
                  <Form.Item name={[name, 'hoursPerWeek']} noStyle>
                    <NumberField aria-label={`Hours a week ${name + 1}`} min={0} max={168} suffix="h" />
                  </Form.Item>
                  <Button onClick={() => remove(name)} aria-label={`Remove person ${name + 1}`}>
                    Remove
                  </Button>
                </div>
                <Form.Item name={[name, 'daysOff']} normalize={(days: string[]) => days.filter(isDay)}>
                  <Select
                    mode="tags"
                    aria-label={`Days off ${name + 1}`}
                    placeholder="days off, such as 2026-12-24"
                    open={false}
                  />
                </Form.Item>
              </div>
            ))}
            <Button className={ui.start} onClick={() => add({ name: '', hoursPerWeek: 20, daysOff: [] })}>
              Add a person
            </Button>
          </>
        )}
      </Form.List>
      <Form.Item
        name="until"
        label="End of the roadmap (optional)"
        getValueProps={(until?: string | null) => ({ value: until ? dayjs(until) : null })}
        normalize={(until?: Dayjs) => until?.format('YYYY-MM-DD') ?? null}
      >
        <DatePicker />
      </Form.Item>
      <h2>Hours by kind and words</h2>
      <table className={ui.facts}>
        <tbody>
          {settings.effort.map((row, i) => (
            <tr key={i}>
              <td>
                {nameOf(row.kind)}
                <span className={ui.quiet}>{row.upTo ? `, up to ${number(row.upTo)} words` : ''}</span>
              </td>
              <td className={ui.num}>
                <Form.Item name={['effort', i, 'hours']} noStyle>
                  <NumberField
                    size="small"
                    aria-label={`Hours to ${nameOf(row.kind)} ${row.upTo ?? ''}`}
                    empty={row.hours}
                    min={0.05}
                    max={1000}
                    step={0.25}
                  />
                </Form.Item>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </ChangeForm>
  );
}

const isDay = (day: string) => /^\d{4}-\d{2}-\d{2}$/.test(day);
