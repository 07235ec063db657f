import { Button, Input, Select } from 'antd';
import { useState } from 'react';
import { answer, api, ApiError } from '../api/client';
import { useFormChange, useProject } from '../api/hooks';

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
      <div className="fault">{save.error.message}</div>
    ) : null;
  return (
    <>
      <h2>Site and market</h2>
      <p>One site in one market. Own pages are those of this host and of hosts below it.</p>
      <form
        className="form"
        onSubmit={(event) => {
          event.preventDefault();
          save.mutate(undefined);
        }}
      >
        <label>
          <span>Domain</span>
          <Input value={host} placeholder="fenwater.example" onChange={(e) => setHost(e.target.value)} />
          {fault('host')}
        </label>
        <label>
          <span>Name of the project</span>
          <Input value={name} placeholder="the domain, if left empty" onChange={(e) => setName(e.target.value)} />
        </label>
        <label>
          <span>Country, two letters</span>
          <Input value={country} maxLength={2} style={{ width: 70 }} onChange={(e) => setCountry(e.target.value)} />
          {fault('country')}
        </label>
        <label>
          <span>Language, two letters</span>
          <Input value={language} maxLength={2} style={{ width: 70 }} onChange={(e) => setLanguage(e.target.value)} />
          {fault('language')}
        </label>
        <label>
          <span>Brand terms beside the site's own name; searches with them raise no finding</span>
          <Select
            mode="tags"
            value={brandTerms}
            open={false}
            style={{ width: '100%' }}
            placeholder="type a term, then Enter"
            onChange={setBrandTerms}
          />
        </label>
        <div className="acts">
          <Button type="primary" htmlType="submit" loading={save.isPending}>
            Save
          </Button>
          {project?.host && <Button onClick={close}>Close</Button>}
        </div>
      </form>
    </>
  );
}
