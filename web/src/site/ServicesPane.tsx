import { useQuery } from '@tanstack/react-query';
import { Button, Form, Input } from 'antd';
import { answer, api, type Schema } from '../api/client';
import { keyOf } from '../api/keys';
import { ChangeForm } from '../pieces/ChangeForm';
import { NumberField } from '../pieces/NumberField';
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

const OneService = ({ service: { name, address, header, hasKey } }: { service: Schema['ServiceRow'] }) => (
  <div className={ui.candidate}>
    <b>{says[name]}</b>
    <ChangeForm
      key={`${address} ${header} ${hasKey}`}
      values={{ address, header, key: '' }}
      change={(form) =>
        answer(
          api.PUT('/api/services/{name}', {
            params: { path: { name } },
            body: { ...form, key: form.key === '' ? null : form.key },
          }),
        )
      }
      done={() => 'Saved.'}
      act="Save"
      isPlain
      isSmall
      clears={['key']}
    >
      <Form.Item name="address">
        <Input aria-label={`Address of ${name}`} placeholder="no address yet" />
      </Form.Item>
      <div className={ui.line}>
        <Form.Item name="header">
          <Input aria-label={`Header of the key of ${name}`} className={ui.short} />
        </Form.Item>
        <Form.Item name="key" className={ui.grow}>
          <Input.Password
            autoComplete="new-password"
            aria-label={`Key of ${name}`}
            placeholder={hasKey ? 'a key is kept' : 'no key'}
          />
        </Form.Item>
      </div>
    </ChangeForm>
  </div>
);

const CaptureForm = ({ settings }: { settings: Schema['CaptureSettings'] }) => (
  <ChangeForm
    values={settings}
    change={(body) => answer(api.PUT('/api/settings/capture', { body }))}
    done={() => 'Saved.'}
    act="Save"
    isSmall
  >
    <div className={ui.line}>
      <Form.Item name="depth" label="Results of a list">
        <NumberField min={0} />
      </Form.Item>
      <Form.Item name="pricePerRequest" label="Price of a list">
        <NumberField min={0} step={0.001} />
      </Form.Item>
      <Form.Item name="currency" label="Currency" normalize={(currency: string) => currency.toUpperCase()}>
        <Input maxLength={3} className={ui.tiny} />
      </Form.Item>
    </div>
    <div className={ui.line}>
      <Form.Item name="ratePerSecond" label="Requests a second">
        <NumberField min={0} />
      </Form.Item>
      <Form.Item name="atOnce" label="At once">
        <NumberField min={0} />
      </Form.Item>
      <Form.Item name="freshDays" label="Fresh for days">
        <NumberField min={0} />
      </Form.Item>
    </div>
  </ChangeForm>
);
