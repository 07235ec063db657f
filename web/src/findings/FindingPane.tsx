import { useQuery } from '@tanstack/react-query';
import { Button } from 'antd';
import { Link, useNavigate } from 'react-router';
import { answer, api, type Schema } from '../api/client';
import { useChange } from '../api/hooks';
import { findingEvidence } from '../api/evidence';
import { usePlaceName } from '../app/recent';
import { focusList } from '../app/keys';
import { AskText } from '../pieces/AskText';
import { counted, day, number, sentenceCase, shortUrl } from '../pieces/format';
import { ReasonForm } from '../pieces/ReasonForm';
import { Rivals } from '../pieces/Rivals';
import { Failed, Reading } from '../pieces/States';
import { isConflict, stateOf, type Finding } from './says';
import { decideFinding, saysDecided } from './useFindings';
import ui from '../pieces/ui.module.css';
import { Shown, Pages, Evidence } from './FindingEvidence';

/** What shows a finding, what is at stake, and the decision. */
export function FindingPane({
  findingKey,
  host,
  dismissing,
  setDismissing,
  decide,
}: {
  findingKey: string;
  host: string | undefined;
  dismissing: boolean;
  setDismissing: (dismissing: boolean) => void;
  decide: (state: Finding['state'], version?: string | null) => void;
}) {
  const navigate = useNavigate();
  const detail = useQuery(findingEvidence(findingKey));
  usePlaceName(detail.data?.finding.subject);
  if (detail.isError) return <Failed error={detail.error} retry={() => void detail.refetch()} />;
  if (!detail.data) return <Reading />;
  const { finding, advice, step, certainty } = detail.data;
  const conflict = isConflict(finding);
  const pageId = finding.pages[0]?.id;
  return (
    <>
      <h2 className={conflict ? `${ui.clay} ${ui.wrap}` : ui.wrap}>{heading(finding)}</h2>
      <p>
        {sentenceCase(finding.says)}.{' '}
        {finding.atStake >= 0.5 && (
          <>
            About <b>{number(finding.atStake)}</b> clicks a month are {conflict ? 'at stake' : 'to gain'}.
          </>
        )}
      </p>
      <Shown signs={detail.data.signs} />
      {step && (
        <p>
          Decided: <b>{step.remedyName}</b>
          {step.pageUrl && `, for ${shortUrl(step.pageUrl, host)}`}
          {step.note && `: ${step.note}`}.{' '}
          {step.waits ? 'It resolves itself with the next scan or data.' : 'Its cause has gone.'}
        </p>
      )}
      <div className={ui.acts}>
        {conflict && (
          <Button
            type="primary"
            onClick={() => void navigate(`/findings/conflict?key=${encodeURIComponent(finding.key)}`)}
          >
            Decide side by side <kbd>c</kbd>
          </Button>
        )}
        {finding.state !== 'accepted' && (
          <Button type={conflict ? 'default' : 'primary'} onClick={() => decide('accepted', finding.version)}>
            Accept <kbd>a</kbd>
          </Button>
        )}
        {finding.state !== 'dismissed' && (
          <Button onClick={() => setDismissing(true)}>
            Dismiss <kbd>d</kbd>
          </Button>
        )}
        {finding.state !== 'resolved' && (
          <Button onClick={() => decide('resolved', finding.version)}>
            Resolved <kbd>r</kbd>
          </Button>
        )}
        {finding.state !== 'open' && (
          <Button onClick={() => decide('open', finding.version)}>
            Open again <kbd>o</kbd>
          </Button>
        )}
      </div>
      {dismissing && (
        <ReasonForm
          question="Why is it left as it is?"
          placeholder="such as: both pages are wanted"
          act="Dismiss"
          change={(reason) =>
            decideFinding({ key: finding.key, state: 'dismissed', reason, version: finding.version ?? null })
          }
          done={(row) => {
            setDismissing(false);
            focusList();
            return saysDecided(row);
          }}
          close={() => setDismissing(false)}
        />
      )}
      <p>
        State: <b>{stateOf(finding)}</b>
        {finding.reason && `, because: ${finding.reason}`}. Found first on {day(finding.firstFoundAt)}.
      </p>
      <Annotations finding={finding} />
      <Pages detail={detail.data} host={host} />
      <hr />
      <h2>How sure</h2>
      <p>{certainty}</p>
      <h2>What can be done</h2>
      <p>{advice}</p>
      {finding.clusterId !== null && (
        <div className={ui.acts}>
          <Link to={`/page-map?id=${finding.clusterId}`}>Open on the page map</Link>
          <Link to={`/clusters?id=${finding.clusterId}`}>Open the cluster</Link>
          {pageId !== undefined && <Link to={`/briefs?page=${pageId}`}>Check the text of its page</Link>}
        </div>
      )}
      <Evidence signs={detail.data.signs} host={host} />
      <Uncovered detail={detail.data} />
    </>
  );
}

/** What the page never says, and the rivals that have what the site has not. */
function Uncovered({ detail }: { detail: Schema['FindingDetail'] }) {
  const { terms, rivals, signs } = detail;
  const keywords = new Set(signs.flatMap((s) => s.facts.map((f) => f.keywordId))).size;
  return (
    <>
      {terms.length > 0 && (
        <>
          <hr />
          <h2>Words it never says</h2>
          <p>
            {terms.map((t) => `${t.word} (demand ${number(t.demand)}, ${counted(t.keywords, 'keyword')})`).join(', ')}
          </p>
        </>
      )}
      {rivals.length > 0 && (
        <>
          <hr />
          <h2>Rivals who have it</h2>
          <Rivals rivals={rivals} keywords={keywords} />
        </>
      )}
    </>
  );
}

/** Who works on it, and what was noted. */
function Annotations({ finding }: { finding: Finding }) {
  const annotate = (change: { assignee?: string; note?: string }) =>
    answer(
      api.POST('/api/findings/decide', {
        body: {
          selection: { keys: [finding.key], filter: null, search: null },
          state: null,
          reason: null,
          assignee: change.assignee ?? null,
          note: change.note ?? null,
        },
      }),
    );
  const take = useChange(annotate);
  return (
    <p>
      <AskText
        label="Who works on it"
        placeholder="a name"
        act="Assign"
        change={(assignee) => annotate({ assignee })}
        done={() => 'Assigned.'}
      >
        <button className={ui.chip}>
          {finding.assignee ? `assigned to ${finding.assignee}` : 'assign to somebody'}
        </button>
      </AskText>{' '}
      {finding.assignee && (
        <button className={ui.chip} onClick={() => take.mutate({ assignee: '' })}>
          to nobody
        </button>
      )}{' '}
      <AskText
        label="Note"
        placeholder="anything to keep in mind"
        act="Note"
        change={(note) => annotate({ note })}
        done={() => 'Noted.'}
      >
        <button className={ui.chip}>{finding.note ? 'change the note' : 'add a note'}</button>
      </AskText>
      {finding.note && <span className={ui.block}>Note: {finding.note}</span>}
    </p>
  );
}

/** What a finding is called at the top of its pane. */
const heading = (f: Finding) =>
  isConflict(f) && f.clusterName
    ? `${f.pageCount === 2 ? 'Two' : number(f.pageCount)} pages chase “${f.clusterName}”`
    : `${sentenceCase(f.name)}: ${f.subject}`;
