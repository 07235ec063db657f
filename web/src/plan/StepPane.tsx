import { useQuery } from '@tanstack/react-query';
import { AutoComplete, Button, Checkbox, DatePicker, Form, Input, InputNumber, Select } from 'antd';
import dayjs from 'dayjs';
import { useState } from 'react';
import { Link } from 'react-router';
import { answer, api, type Schema } from '../api/client';
import { useChange } from '../api/hooks';
import { keyOf } from '../api/keys';
import { stepEvidence } from '../api/evidence';
import { usePlaceName } from '../app/recent';
import { BriefButton, CheckPageButton } from '../briefs/BriefButton';
import { FindingLine } from '../findings/says';
import { ChangeForm } from '../pieces/ChangeForm';
import { counted, moment, number, shortUrl } from '../pieces/format';
import { ReasonForm } from '../pieces/ReasonForm';
import { Failed, Reading } from '../pieces/States';
import { MissingLink } from './MissingLink';
import styles from './plan.module.css';
import { words } from '../api/words';
import { capital, type Status } from './says';
import { saysChanged, sendChange, useStepChange } from './useSteps';
import ui from '../pieces/ui.module.css';

/** A step that explains itself: why it is there, why in this place, and what will prove that it is done. */
export function StepPane({ id, host }: { id: number; host: string | undefined }) {
  const detail = useQuery(stepEvidence(id));
  usePlaceName(detail.data && `${detail.data.step.what} ${detail.data.step.url}`);
  if (detail.isError) return <Failed error={detail.error} retry={() => void detail.refetch()} />;
  if (!detail.data) return <Reading />;
  const { step, why, whyHere, before, after, proof, links, entries } = detail.data;
  return (
    <>
      <h2 className={ui.wrap}>
        {capital(step.what)}: {shortUrl(step.url, host)}
      </h2>
      <p>
        {step.title && `“${step.title}”. `}
        {step.clusters.length > 0 &&
          `${counted(step.clusters.length, 'cluster')}, demand ${number(step.demand)} a month, estimated. `}
        {step.topicId != null && <Link to={`/clusters?view=topics&topic=${step.topicId}`}>{step.topicName}</Link>}
      </p>
      {step.clusters.length > 0 && (step.kind === 'write' || step.kind === 'refresh' || step.kind === 'merge') && (
        <div className={ui.acts}>
          <BriefButton clusterId={step.clusters[0]!.id} />
          {!step.isPlanned && <CheckPageButton pageId={step.pageId} />}
        </div>
      )}
      <Fields key={step.version} step={step} />
      <hr />
      <h2>Parts</h2>
      <Parts step={step} host={host} />
      <hr />
      <h2>Why</h2>
      {why.map((f) => (
        <FindingLine key={f.key} finding={f} />
      ))}
      {step.gainSays && <p>{capital(step.gainSays)}.</p>}
      {why.length === 0 && !step.gainSays && <p className={ui.quiet}>Added by a planner.</p>}
      <h3>Why here</h3>
      {whyHere.map((w) => (
        <p key={w}>{w}</p>
      ))}
      {[...before, ...after].length > 0 && (
        <p>
          {before.map((b) => (
            <span key={b.id}>
              After <Link to={`/plan?id=${b.id}`}>{`${b.what} ${shortUrl(b.url, host)}`}</Link>.{' '}
            </span>
          ))}
          {after.length > 0 && `${counted(after.length, 'step')} ${after.length === 1 ? 'waits' : 'wait'} for it.`}
        </p>
      )}
      <h3>Verified when</h3>
      {proof.map((p) => (
        <p key={p}>{p}</p>
      ))}
      {links.length > 0 && (
        <>
          <hr />
          <h2>Links for the new page</h2>
          {links.map((l) => (
            <MissingLink key={`${l.sourceId} ${l.targetId}`} link={l} host={host} />
          ))}
        </>
      )}
      <hr />
      <h2>Comments and history</h2>
      <Comment id={id} />
      <ul className={styles.entries}>
        {entries.map((e, i) => (
          <li key={i} className={e.isComment ? undefined : ui.second}>
            <span className={ui.quiet}>
              {moment(e.madeAt)}
              {e.author && `, ${e.author}`}
            </span>{' '}
            {e.says}
          </li>
        ))}
      </ul>
    </>
  );
}

function Fields({ step }: { step: Schema['StepRow'] }) {
  const change = useStepChange();
  const [dropping, setDropping] = useState(false);
  const [note, setNote] = useState(step.note);
  const owners = useQuery({ queryKey: keyOf('owners'), queryFn: () => answer(api.GET('/api/plan/owners')) });
  const set = (what: Parameters<typeof change.mutate>[0]) =>
    change.mutate({ ids: [step.id], version: step.version, ...what });
  if (dropping)
    return (
      <ReasonForm
        question="Why is it dropped?"
        placeholder="the reason, for later"
        act="Drop"
        change={(reason) => sendChange({ ids: [step.id], version: step.version, status: 'dropped', reason })}
        done={(result) => {
          setDropping(false);
          return saysChanged(result);
        }}
        close={() => setDropping(false)}
      />
    );
  return (
    <div className={ui.form}>
      <div className={ui.two}>
        <label>
          <span>Status</span>
          <Select<Status>
            aria-label="Status"
            value={step.status}
            options={words.stepStatuses.map((s) => ({ value: s.value, label: s.name, disabled: s.value === 'live' }))}
            onChange={(status) => (status === 'dropped' ? setDropping(true) : set({ status }))}
          />
        </label>
        <label>
          <span>Owner</span>
          <AutoComplete
            aria-label="Owner"
            defaultValue={step.owner}
            options={(owners.data ?? []).map((value) => ({ value }))}
            placeholder="nobody yet"
            onSelect={(owner: string) => set({ owner })}
            onBlur={(event) => {
              const owner = (event.target as HTMLInputElement).value;
              if (owner !== step.owner) set({ owner });
            }}
          />
        </label>
        <label>
          <span>Due date</span>
          <DatePicker
            aria-label="Due date"
            value={step.due ? dayjs(step.due) : null}
            onChange={(due) => set({ due: due ? due.format('YYYY-MM-DD') : '' })}
          />
        </label>
        <label>
          <span>Hours{step.hoursByHand ? ', set here' : ', from the table'}</span>
          <InputNumber
            aria-label="Hours"
            min={0}
            max={1000}
            step={0.25}
            defaultValue={step.hours}
            onBlur={(event) => {
              const hours = Number(event.target.value);
              if (Number.isFinite(hours) && hours !== step.hours) set({ hours });
            }}
          />
        </label>
      </div>
      <label>
        <span>Note</span>
        <Input.TextArea
          aria-label="Note"
          autoSize={{ minRows: 1, maxRows: 6 }}
          value={note}
          onChange={(event) => setNote(event.target.value)}
          onBlur={() => note !== step.note && set({ note })}
        />
      </label>
      {step.reason && <p className={ui.clay}>Dropped: {step.reason}</p>}
    </div>
  );
}

function Parts({ step, host }: { step: Schema['StepRow']; host: string | undefined }) {
  const check = useChange(({ id, isDone }: { id: number; isDone: boolean }) =>
    answer(api.PUT('/api/plan/parts/{id}', { params: { path: { id } }, body: { isDone } })),
  );
  const remove = useChange((id: number) => answer(api.DELETE('/api/plan/parts/{id}', { params: { path: { id } } })));
  return (
    <ul className={styles.parts}>
      {step.parts.map((p) => (
        <li key={p.id}>
          <Checkbox checked={p.isDone} onChange={(event) => check.mutate({ id: p.id, isDone: event.target.checked })}>
            {p.otherUrl ? p.says.replace(p.otherUrl, shortUrl(p.otherUrl, host)) : p.says}
          </Checkbox>
          {p.because && <div className={ui.second}>{p.because}</div>}
          {p.isFound != null && (
            <div className={p.isFound ? ui.second : ui.clay}>
              {p.isFound ? 'Found: ' : 'Not verified: '}
              {p.found}
            </div>
          )}
          {step.parts.length > 1 && (
            <Button size="small" type="text" onClick={() => remove.mutate(p.id)} aria-label={`Remove: ${p.says}`}>
              Remove
            </Button>
          )}
        </li>
      ))}
    </ul>
  );
}

const Comment = ({ id }: { id: number }) => (
  <ChangeForm
    values={{ says: '' }}
    change={(body) => answer(api.POST('/api/plan/steps/{id}/comments', { params: { path: { id } }, body }))}
    act="Add"
    isReady={(form) => form.says.trim() !== ''}
    isPlain
    isLine
    clears={['says']}
  >
    <Form.Item name="says">
      <Input aria-label="Comment" placeholder="Add a comment" />
    </Form.Item>
  </ChangeForm>
);
