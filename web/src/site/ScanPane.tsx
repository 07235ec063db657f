import { useQuery } from '@tanstack/react-query';
import { Button, Checkbox, Input, InputNumber, Select } from 'antd';
import { useState } from 'react';
import { answer, api, ApiError, type Schema } from '../api/client';
import { hasEnded, useFormChange, useJob } from '../api/hooks';
import { keyOf } from '../api/keys';
import { counted, moment, number } from '../pieces/format';
import { Failed, Reading } from '../pieces/States';
import { JobProgress } from '../pieces/JobProgress';
import ui from '../pieces/ui.module.css';

const changeSays: Record<Schema['PageChangeKind'], string> = {
  new: 'new',
  gone: 'gone',
  back: 'back again',
  title: 'title changed',
  h1: 'H1 changed',
  status: 'status changed',
  indexable: 'indexable changed',
  description: 'description changed',
  headings: 'headings changed',
  words: 'length changed',
  links: 'links changed',
  text: 'text changed',
};

/** Reads the site: how, how far, and what changed since the last time. */
export function ScanPane({ close }: { close: () => void }) {
  const settings = useQuery({ queryKey: keyOf('settings'), queryFn: () => answer(api.GET('/api/settings')) });
  const scans = useQuery({ queryKey: keyOf('scans'), queryFn: () => answer(api.GET('/api/scans')) });
  if (settings.isError) return <Failed error={settings.error} retry={() => void settings.refetch()} />;
  if (!settings.data || !scans.data) return <Reading />;
  const newest = scans.data[0];
  return (
    <>
      <h2>Scan the site</h2>
      <ScanForm
        key={JSON.stringify(settings.data.scan)}
        settings={settings.data.scan}
        isRunning={newest !== undefined && !hasEnded(newest.job)}
        close={close}
      />
      {newest && (
        <>
          <hr />
          <ScanResult view={newest} />
        </>
      )}
    </>
  );
}

function ScanForm({
  settings,
  isRunning,
  close,
}: {
  settings: Schema['ScanSettings'];
  isRunning: boolean;
  close: () => void;
}) {
  const [form, setForm] = useState(settings);
  const [more, setMore] = useState(false);
  const start = useFormChange(async () => {
    await answer(api.PUT('/api/settings/scan', { body: form }));
    return answer(api.POST('/api/scans'));
  });
  const fault = (field: string) =>
    start.error instanceof ApiError && start.error.field === field ? (
      <div className={ui.fault}>{start.error.message}</div>
    ) : null;
  const set = (changes: Partial<Schema['ScanSettings']>) => setForm({ ...form, ...changes });
  return (
    <form
      className={ui.form}
      onSubmit={(event) => {
        event.preventDefault();
        start.mutate(undefined);
      }}
    >
      <label>
        <span>What to read</span>
        <Select
          value={form.depth}
          aria-label="What to read"
          options={[
            { value: 'light', label: 'light: titles, descriptions, headings' },
            { value: 'full', label: 'full: also text, word counts, links, dates' },
          ]}
          onChange={(depth) => set({ depth })}
        />
      </label>
      <label>
        <span>How to find pages</span>
        <Select
          value={form.findBy}
          aria-label="How to find pages"
          options={[
            { value: 'sitemapElseLinks', label: 'sitemaps; links where there is none' },
            { value: 'sitemapAndLinks', label: 'sitemaps and links' },
            { value: 'links', label: 'links alone' },
          ]}
          onChange={(findBy) => set({ findBy })}
        />
      </label>
      <button type="button" className={`${ui.chip} ${ui.start}`} onClick={() => setMore(!more)}>
        {more ? 'fewer settings' : 'more settings'}
      </button>
      {(more || fault('startUrl') || fault('gateway') || fault('ratePerSecond')) && (
        <>
          <label>
            <span>Start address (default: the domain)</span>
            <Input
              value={form.startUrl}
              placeholder="https://"
              aria-label="Start address"
              onChange={(e) => set({ startUrl: e.target.value })}
            />
            {fault('startUrl')}
          </label>
          <div className={ui.line}>
            <label>
              <span>Requests a second</span>
              <InputNumber
                min={0.05}
                max={1000}
                value={form.ratePerSecond}
                aria-label="Requests a second"
                onChange={(v) => set({ ratePerSecond: v ?? 1 })}
              />
            </label>
            <label>
              <span>At once</span>
              <InputNumber
                min={1}
                max={32}
                precision={0}
                value={form.atOnce}
                aria-label="Requests at once"
                onChange={(v) => set({ atOnce: v ?? 1 })}
              />
            </label>
            <label>
              <span>Pages at most</span>
              <InputNumber
                min={1}
                max={1_000_000}
                precision={0}
                value={form.maxPages}
                aria-label="Pages at most"
                onChange={(v) => set({ maxPages: v ?? 1 })}
              />
            </label>
          </div>
          {fault('ratePerSecond')}
          <Checkbox checked={form.allowPrivate} onChange={(e) => set({ allowPrivate: e.target.checked })}>
            Allow private and loopback addresses
          </Checkbox>
          <label>
            <span>Gateway: reach sites of a domain through this address</span>
            <div className={ui.line}>
              <Input
                value={form.gateway}
                placeholder="none"
                aria-label="Gateway"
                onChange={(e) => set({ gateway: e.target.value })}
              />
              <span className={`${ui.second} ${ui.nowrap}`}>for .</span>
              <Input
                value={form.gatewayFor}
                aria-label="Domain behind the gateway"
                className={ui.narrow}
                onChange={(e) => set({ gatewayFor: e.target.value })}
              />
            </div>
            {fault('gateway')}
          </label>
        </>
      )}
      {start.error && !(start.error instanceof ApiError && start.error.field) && (
        <div className={ui.fault}>{start.error.message}</div>
      )}
      <div className={ui.acts}>
        <Button type="primary" htmlType="submit" disabled={isRunning} loading={start.isPending}>
          Scan
        </Button>
        <Button onClick={close}>Close</Button>
      </div>
    </form>
  );
}

function ScanResult({ view }: { view: Schema['ScanView'] }) {
  const { scan, counts } = view;
  const job = useJob(view.job.id).data ?? view.job;
  const changes = view.changes as Partial<Record<Schema['PageChangeKind'], number>>;
  const [open, setOpen] = useState<'changes' | 'unread'>();
  const path = { id: job.id };
  const changed = useQuery({
    queryKey: keyOf('page-changes', job.id),
    enabled: open === 'changes',
    queryFn: () => answer(api.GET('/api/scans/{id}/changes', { params: { path } })),
  });
  const unread = useQuery({
    queryKey: keyOf('unread', job.id),
    enabled: open === 'unread',
    queryFn: () => answer(api.GET('/api/scans/{id}/unread', { params: { path } })),
  });
  if (!hasEnded(job))
    return (
      <>
        <h2>{job.label}</h2>
        <JobProgress jobId={job.id} />
      </>
    );
  return (
    <>
      <h2>
        {job.label}, {moment(scan?.startedAt ?? job.createdAt)}
      </h2>
      <JobProgress jobId={job.id} />
      {scan?.notes.split('\n').map((note) => (
        <p key={note}>{note}</p>
      ))}
      <p>
        {Object.keys(changes).length > 0 ? (
          <button className={ui.chip} onClick={() => setOpen(open === 'changes' ? undefined : 'changes')}>
            what changed (
            {Object.entries(changes)
              .map(([kind, count]) => `${number(count)} ${changeSays[kind as Schema['PageChangeKind']]}`)
              .join(', ')}
            )
          </button>
        ) : (
          scan?.finishedAt && 'Nothing changed since the scan before.'
        )}
      </p>
      {counts.failed + counts.skipped > 0 && (
        <p>
          <button className={ui.chip} onClick={() => setOpen(open === 'unread' ? undefined : 'unread')}>
            what was not read ({counted(counts.failed + counts.skipped, 'address', 'addresses')})
          </button>
        </p>
      )}
      {open === 'changes' && (
        <table className={ui.facts}>
          <tbody>
            {changed.data?.map((c) => (
              <tr key={`${c.pageId} ${c.kind}`}>
                <td className={`${ui.second} ${ui.nowrap}`}>{changeSays[c.kind]}</td>
                <td className={ui.url}>
                  {c.url}
                  {c.kind !== 'new' && (
                    <div className={ui.quiet}>
                      {c.before ?? 'nothing'} → {c.after ?? 'nothing'}
                    </div>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {open === 'unread' && (
        <table className={ui.facts}>
          <tbody>
            {unread.data?.map((u) => (
              <tr key={u.url}>
                <td className={ui.url}>
                  {u.url}
                  <div className={u.state === 'failed' ? ui.clay : ui.quiet}>{u.note}</div>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {open === 'changes' && <a href={`/api/scans/${job.id}/changes.csv`}>Download all changes as CSV</a>}
    </>
  );
}
