import { useQuery } from '@tanstack/react-query';
import { Form, Select } from 'antd';
import { answer, api, type Schema } from '../api/client';
import { keyOf } from '../api/keys';
import { ChangeForm } from '../pieces/ChangeForm';
import { NumberField } from '../pieces/NumberField';
import { counted, day, money, number } from '../pieces/format';
import ui from '../pieces/ui.module.css';

/** When lists are captured again by themselves, what that costs, and how much it may. */
export function SchedulePart() {
  const settings = useQuery({ queryKey: keyOf('settings'), queryFn: () => answer(api.GET('/api/settings')) }).data
    ?.capture;
  const view = useQuery({
    queryKey: keyOf('capture schedule'),
    queryFn: () => answer(api.GET('/api/captures/schedule')),
  }).data;
  if (!settings || !view) return null;
  return (
    <>
      <h2>Capture again by schedule</h2>
      {view.nextOn ? (
        <p>
          Next on <b>{day(view.nextOn)}</b>: {counted(view.lists, 'list')} would be due today, for{' '}
          {money(view.cost, view.currency)}. A month costs up to {money(view.costPerMonth, view.currency)};{' '}
          {money(view.spentThisMonth, view.currency)} of {money(view.monthlyBudget, view.currency)} are spent this
          month.
        </p>
      ) : (
        <p>Off. Set the number of days between captures.</p>
      )}
      {view.lastOn && (
        <p className={ui.second}>
          Last on {day(view.lastOn)}: {view.says}
        </p>
      )}
      <ScheduleForm key={JSON.stringify(settings)} settings={settings} />
      <p className={ui.quiet}>
        Most searched keywords come first. When the budget of a month is used up, the rest waits for the next run. Runs
        that were missed while Jade Orchard was not running are caught up by one.
      </p>
    </>
  );
}

function ScheduleForm({ settings }: { settings: Schema['CaptureSettings'] }) {
  const lists = useQuery({ queryKey: keyOf('lists'), queryFn: () => answer(api.GET('/api/lists')) }).data ?? [];
  return (
    <ChangeForm
      values={settings}
      change={(body) => answer(api.PUT('/api/settings/capture', { body }))}
      done={() => 'Saved.'}
      act="Save the schedule"
    >
      <div className={ui.line}>
        <Form.Item name="recaptureDays" label="Days between captures, 0 for never">
          <NumberField min={0} max={365} />
        </Form.Item>
        <Form.Item name="monthlyBudget" label={`Budget of a month, ${settings.currency}`}>
          <NumberField min={0} step={1} />
        </Form.Item>
      </div>
      <Form.Item
        name="recaptureListId"
        label="Keywords"
        getValueProps={(id?: number | null) => ({ value: id ?? 0 })}
        normalize={(id: number) => (id === 0 ? null : id)}
      >
        <Select
          options={[
            { value: 0, label: 'all that were captured' },
            ...lists.map((l) => ({ value: l.id, label: `the list “${l.name}”, ${number(l.keywords)} keywords` })),
          ]}
        />
      </Form.Item>
    </ChangeForm>
  );
}
