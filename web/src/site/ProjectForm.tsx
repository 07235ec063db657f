import { useQuery } from '@tanstack/react-query';
import { Button, Checkbox, Input, Select } from 'antd';
import { useState } from 'react';
import { answer, api, ApiError } from '../api/client';
import { useChange, useFormChange, useProject } from '../api/hooks';
import { keyOf } from '../api/keys';
import { percent } from '../pieces/format';
import ui from '../pieces/ui.module.css';

/** The site, its market and its brand terms. */
export function ProjectForm({ close }: { close: () => void }) {
  const project = useProject().data?.project;
  const [name, setName] = useState(project?.name ?? '');
  const [host, setHost] = useState(project?.host ?? '');
  const [country, setCountry] = useState(project?.country ?? 'GB');
  const [language, setLanguage] = useState(project?.language ?? 'en');
  const [brandTerms, setBrandTerms] = useState(project?.brandTerms ?? []);
  const save = useFormChange(
    async () => {
      await answer(api.PUT('/api/project', { body: { name, host, country, language, brandTerms } }));
      close();
    },
    () => 'Saved.',
  );
  const fault = (field: string) =>
    save.error instanceof ApiError && save.error.field === field ? (
      <div className={ui.fault}>{save.error.message}</div>
    ) : null;
  return (
    <>
      <h2>Site and market</h2>
      <p>One site in one market. Its pages are those of these hosts, with hosts below them, and of these folders.</p>
      <form
        className={ui.form}
        onSubmit={(event) => {
          event.preventDefault();
          save.mutate(undefined);
        }}
      >
        <label>
          <span>Domain; several with commas between, or a folder: fenwater.example/shop</span>
          <Input value={host} placeholder="fenwater.example" onChange={(e) => setHost(e.target.value)} />
          {fault('host')}
        </label>
        <label>
          <span>Name of the project</span>
          <Input value={name} placeholder="the domain, if left empty" onChange={(e) => setName(e.target.value)} />
        </label>
        <label>
          <span>Country, two letters</span>
          <Input value={country} maxLength={2} className={ui.narrow} onChange={(e) => setCountry(e.target.value)} />
          {fault('country')}
        </label>
        <label>
          <span>Language, two letters</span>
          <Input value={language} maxLength={2} className={ui.narrow} onChange={(e) => setLanguage(e.target.value)} />
          {fault('language')}
        </label>
        <label>
          <span>Brand terms beside the site's own name; searches with them raise no finding</span>
          <Select
            mode="tags"
            value={brandTerms}
            open={false}
            className={ui.full}
            placeholder="type a term, then Enter"
            onChange={setBrandTerms}
          />
        </label>
        <SubjectBrands />
        <Tracking />
        <div className={ui.acts}>
          <Button type="primary" htmlType="submit" loading={save.isPending}>
            Save
          </Button>
          {project?.host && <Button onClick={close}>Close</Button>}
        </div>
      </form>
    </>
  );
}

/** Brand terms that are also what the site is about: searches with them are brand searches only where the planner says so. */
function SubjectBrands() {
  const settings = useQuery({ queryKey: keyOf('settings'), queryFn: () => answer(api.GET('/api/settings')) }).data;
  const confirm = useChange(
    (terms: string[]) => answer(api.PUT('/api/settings/confirmed-brands', { body: terms })),
    () => 'Saved.',
  );
  return (settings?.subjectBrands ?? []).map(({ term, share }) => {
    const confirmed = settings?.confirmedBrands ?? [];
    const isConfirmed = confirmed.includes(term);
    return (
      <div key={term} className={ui.quiet}>
        “{term}” is in the titles of {percent(share)} of the pages, so it is also what the site is about. Searches with
        it raise findings unless you confirm it.
        <br />
        <Checkbox
          checked={isConfirmed}
          disabled={confirm.isPending}
          onChange={() => confirm.mutate(isConfirmed ? confirmed.filter((t) => t !== term) : [...confirmed, term])}
        >
          Treat “{term}” as a brand
        </Checkbox>
      </div>
    );
  });
}

/** Parameters that are dropped from addresses to compare them, and those that the results say should be. */
function Tracking() {
  const settings = useQuery({ queryKey: keyOf('settings'), queryFn: () => answer(api.GET('/api/settings')) }).data;
  const proposals = useQuery({
    queryKey: keyOf('tracking'),
    queryFn: () => answer(api.GET('/api/tracking/proposals')),
  }).data;
  const save = useFormChange(
    (parameters: string[]) => answer(api.PUT('/api/settings/tracking', { body: parameters })),
    () => 'Saved; addresses are compared without them.',
  );
  const parameters = settings?.trackingParameters ?? [];
  return (
    <label>
      <span>
        Tracking parameters to ignore in addresses, beyond the usual ones (“vid”, or “vid_*” for all that begin so)
      </span>
      <Select
        mode="tags"
        className={ui.wide}
        value={parameters}
        open={false}
        loading={save.isPending}
        placeholder="type a parameter, then Enter"
        onChange={(value: string[]) => save.mutate(value)}
      />
      {save.error instanceof ApiError && <div className={ui.fault}>{save.error.message}</div>}
      {(proposals ?? []).map((p) => (
        <div key={p.name} className={ui.quiet}>
          “{p.name}” has {p.values} values in {p.lists} result lists at {p.pages} addresses that are the same but for
          it: {p.example}{' '}
          <button type="button" className={ui.chip} onClick={() => save.mutate([...parameters, p.name])}>
            ignore it
          </button>
        </div>
      ))}
    </label>
  );
}
