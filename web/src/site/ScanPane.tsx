import { useQuery } from '@tanstack/react-query';
import { Button, Checkbox, Form, Input, Select } from 'antd';
import { useState } from 'react';
import { flushSync } from 'react-dom';
import { fileUrl } from '../api/base';
import { answer, api, ApiError, type Schema } from '../api/client';
import { hasEnded, useJob } from '../api/hooks';
import { keyOf } from '../api/keys';
import { ChangeForm } from '../pieces/ChangeForm';
import { NumberField } from '../pieces/NumberField';
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

const hidden = ['startUrl', 'ratePerSecond', 'gateway'];

function ScanForm({
  settings,
  isRunning,
  close,
}: {
  settings: Schema['ScanSettings'];
  isRunning: boolean;
  close: () => void;
}) {
  const [more, setMore] = useState(false);
  return (
    <ChangeForm
      values={settings}
      change={async (body) => {
        await answer(api.PUT('/api/settings/scan', { body })).catch((error: unknown) => {
          // What is refused has to be on screen to be mended.
          if (error instanceof ApiError && hidden.includes(error.field ?? '')) flushSync(() => setMore(true));
          throw error;
        });
        return answer(api.POST('/api/scans'));
      }}
      act="Scan"
      acts={<Button onClick={close}>Close</Button>}
      isBlocked={isRunning}
    >
      <Form.Item name="depth" label="What to read">
        <Select
          options={[
            { value: 'light', label: 'light: titles, descriptions, headings' },
            { value: 'full', label: 'full: also text, word counts, links, dates' },
          ]}
        />
      </Form.Item>
      <Form.Item name="findBy" label="How to find pages">
        <Select
          options={[
            { value: 'sitemapElseLinks', label: 'sitemaps; links where there is none' },
            { value: 'sitemapAndLinks', label: 'sitemaps and links' },
            { value: 'links', label: 'links alone' },
          ]}
        />
      </Form.Item>
      <button type="button" className={`${ui.chip} ${ui.start}`} onClick={() => setMore(!more)}>
        {more ? 'fewer settings' : 'more settings'}
      </button>
      {more && <MoreSettings />}
    </ChangeForm>
  );
}

const MoreSettings = () => (
  <>
    <Form.Item name="startUrl" label="Start address (default: the domain)">
      <Input placeholder="https://" />
    </Form.Item>
    <div className={ui.line}>
      <Form.Item name="ratePerSecond" label="Requests a second">
        <NumberField min={0.05} max={1000} empty={1} />
      </Form.Item>
      <Form.Item name="atOnce" label="Requests at once">
        <NumberField min={1} max={32} precision={0} empty={1} />
      </Form.Item>
      <Form.Item name="maxPages" label="Pages at most">
        <NumberField min={1} max={1_000_000} precision={0} empty={1} />
      </Form.Item>
    </div>
    <Form.Item name="allowPrivate" valuePropName="checked">
      <Checkbox>Allow private and loopback addresses</Checkbox>
    </Form.Item>
    <div className={ui.line}>
      <Form.Item name="gateway" label="Gateway: reach sites of a domain through this address" className={ui.grow}>
        <Input placeholder="none" />
      </Form.Item>
      <Form.Item name="gatewayFor" label="for .">
        <Input aria-label="Domain behind the gateway" className={ui.narrow} />
      </Form.Item>
    </div>
  </>
);

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
      {open === 'changes' && <a href={fileUrl(`/api/scans/${job.id}/changes.csv`)}>Download all changes as CSV</a>}
    </>
  );
}
