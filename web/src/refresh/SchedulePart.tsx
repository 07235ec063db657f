import { useQuery } from '@tanstack/react-query';
import { Button, InputNumber, Select } from 'antd';
import { useState } from 'react';
import { answer, api, ApiError, type Schema } from '../api/client';
import { useFormChange } from '../api/hooks';
import { keyOf } from '../api/keys';
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
  const [form, setForm] = useState(settings);
  const lists = useQuery({ queryKey: keyOf('lists'), queryFn: () => answer(api.GET('/api/lists')) }).data ?? [];
  const save = useFormChange(
    () => answer(api.PUT('/api/settings/capture', { body: form })),
    () => 'Saved.',
  );
  return (
    <form
      className={ui.form}
      onSubmit={(event) => {
        event.preventDefault();
        save.mutate(undefined);
      }}
    >
      <div className={ui.line}>
        <label>
          <span>Days between captures, 0 for never</span>
          <InputNumber
            min={0}
            max={365}
            aria-label="Days between captures, 0 for never"
            value={form.recaptureDays}
            onChange={(value) => setForm({ ...form, recaptureDays: value ?? 0 })}
          />
        </label>
        <label>
          <span>Budget of a month, {form.currency}</span>
          <InputNumber
            min={0}
            step={1}
            aria-label="Budget of a month"
            value={form.monthlyBudget}
            onChange={(value) => setForm({ ...form, monthlyBudget: value ?? 0 })}
          />
        </label>
      </div>
      <label>
        <span>Keywords</span>
        <Select
          aria-label="Keywords"
          value={form.recaptureListId ?? 0}
          options={[
            { value: 0, label: 'all that were captured' },
            ...lists.map((l) => ({ value: l.id, label: `the list “${l.name}”, ${number(l.keywords)} keywords` })),
          ]}
          onChange={(id) => setForm({ ...form, recaptureListId: id === 0 ? null : id })}
        />
      </label>
      {save.error instanceof ApiError && <div className={ui.fault}>{save.error.message}</div>}
      <div className={ui.acts}>
        <Button type="primary" htmlType="submit" loading={save.isPending}>
          Save the schedule
        </Button>
      </div>
    </form>
  );
}
