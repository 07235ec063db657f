import { useQuery } from '@tanstack/react-query';
import { Button, Checkbox, Form, Select } from 'antd';
import { answer, api, ApiError } from '../api/client';
import { useChange, useFormChange, useProject } from '../api/hooks';
import { keyOf } from '../api/keys';
import { ChangeForm } from '../pieces/ChangeForm';
import { percent } from '../pieces/format';
import { ProfileFields } from './ProfileFields';
import ui from '../pieces/ui.module.css';

/** The site, its market and its brand terms. */
export function ProjectForm({ close }: { close: () => void }) {
  const project = useProject().data?.project;
  return (
    <>
      <h2>Site and market</h2>
      <p>One site in one market. Its pages are those of these hosts, with hosts below them, and of these folders.</p>
      <ChangeForm
        values={{
          host: project?.host ?? '',
          name: project?.name ?? '',
          country: project?.country ?? 'GB',
          language: project?.language ?? 'en',
          brandTerms: project?.brandTerms ?? [],
        }}
        change={(body) => answer(api.PUT('/api/project', { body }))}
        done={() => {
          close();
          return 'Saved.';
        }}
        act="Save"
        acts={project?.host && <Button onClick={close}>Close</Button>}
      >
        <ProfileFields />
        <Form.Item
          name="brandTerms"
          label="Brand terms beside the site's own name; searches with them raise no finding"
        >
          <Select mode="tags" open={false} placeholder="type a term, then Enter" />
        </Form.Item>
      </ChangeForm>
      <hr />
      <div className={ui.form}>
        <SubjectBrands />
        <Tracking />
      </div>
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
