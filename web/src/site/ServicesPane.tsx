import { useQuery } from '@tanstack/react-query';
import { Button, Input, InputNumber } from 'antd';
import { useState } from 'react';
import { answer, api, ApiError, type Schema } from '../api/client';
import { useFormChange } from '../api/hooks';
import { keyOf } from '../api/keys';
import { Failed, Reading } from '../pieces/States';
import ui from '../pieces/ui.module.css';

const says: Record<Schema['ServiceName'], string> = {
  search: 'Search: result lists',
  suggestions: 'Suggestions: what is offered while typing',
  research: 'Research: ideas and numbers',
  rankings: 'Rankings: what sites rank for',
  performance: 'Search performance of the own site',
  drafting: 'Drafting: titles, outlines and texts to begin with',
};

/** Where the services are, and what a capture costs. Keys go in and never come out. */
export function ServicesPane({ close }: { close: () => void }) {
  const services = useQuery({ queryKey: keyOf('services'), queryFn: () => answer(api.GET('/api/services')) });
  const settings = useQuery({ queryKey: keyOf('settings'), queryFn: () => answer(api.GET('/api/settings')) });
  if (services.isError) return <Failed error={services.error} retry={() => void services.refetch()} />;
  if (!services.data || !settings.data) return <Reading />;
  return (
    <>
      <h2>Services</h2>
      <p>
        Each is asked over HTTP as docs/services.json says. Put an adapter to a service of your choice behind an
        address, and its key goes along in the header. Keys are kept on this machine and never shown again.
      </p>
      {services.data.map((service) => (
        <OneService key={service.name} service={service} />
      ))}
      <hr />
      <h2>Capturing results</h2>
      <CaptureForm settings={settings.data.capture} />
      <div className={ui.acts}>
        <Button onClick={close}>Close</Button>
      </div>
    </>
  );
}

function OneService({ service }: { service: Schema['ServiceRow'] }) {
  const [address, setAddress] = useState(service.address);
  const [header, setHeader] = useState(service.header);
  const [key, setKey] = useState('');
  const save = useFormChange(
    async () => {
      await answer(
        api.PUT('/api/services/{name}', {
          params: { path: { name: service.name } },
          body: { address, header, key: key === '' ? null : key },
        }),
      );
      setKey('');
    },
    () => 'Saved.',
  );
  return (
    <form
      className={`${ui.form} ${ui.candidate}`}
      onSubmit={(event) => {
        event.preventDefault();
        save.mutate(undefined);
      }}
    >
      <b>{says[service.name]}</b>
      <Input
        size="small"
        aria-label={`Address of ${service.name}`}
        placeholder="no address yet"
        value={address}
        onChange={(e) => setAddress(e.target.value)}
      />
      <div className={ui.line}>
        <Input
          size="small"
          aria-label={`Header of the key of ${service.name}`}
          value={header}
          className={ui.short}
          onChange={(e) => setHeader(e.target.value)}
        />
        <Input.Password
          size="small"
          autoComplete="new-password"
          aria-label={`Key of ${service.name}`}
          placeholder={service.hasKey ? 'a key is kept' : 'no key'}
          value={key}
          onChange={(e) => setKey(e.target.value)}
        />
        <Button size="small" htmlType="submit" loading={save.isPending}>
          Save
        </Button>
      </div>
      {save.error instanceof ApiError && <div className={ui.fault}>{save.error.message}</div>}
    </form>
  );
}

function CaptureForm({ settings }: { settings: Schema['CaptureSettings'] }) {
  const [form, setForm] = useState(settings);
  const save = useFormChange(
    () => answer(api.PUT('/api/settings/capture', { body: form })),
    () => 'Saved.',
  );
  const field = (name: keyof Schema['CaptureSettings'], label: string, step = 1) => (
    <label>
      <span>{label}</span>
      <InputNumber
        min={0}
        step={step}
        aria-label={label}
        value={form[name] as number}
        onChange={(value) => setForm({ ...form, [name]: value ?? 0 })}
      />
    </label>
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
        {field('depth', 'Results of a list')}
        {field('pricePerRequest', 'Price of a list', 0.001)}
        <label>
          <span>Currency</span>
          <Input
            value={form.currency}
            maxLength={3}
            aria-label="Currency"
            className={ui.tiny}
            onChange={(e) => setForm({ ...form, currency: e.target.value.toUpperCase() })}
          />
        </label>
      </div>
      <div className={ui.line}>
        {field('ratePerSecond', 'Requests a second')}
        {field('atOnce', 'At once')}
        {field('freshDays', 'Fresh for days')}
      </div>
      {save.error instanceof ApiError && <div className={ui.fault}>{save.error.message}</div>}
      <div className={ui.acts}>
        <Button size="small" type="primary" htmlType="submit" loading={save.isPending}>
          Save
        </Button>
      </div>
    </form>
  );
}
