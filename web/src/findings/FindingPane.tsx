import { useQuery } from '@tanstack/react-query';
import { Button } from 'antd';
import { Link, useNavigate } from 'react-router';
import { answer, api, type Schema } from '../api/client';
import { useChange } from '../api/hooks';
import { focusList } from '../app/keys';
import { AskText } from '../pieces/AskText';
import { counted, day, decimal, number, percent, sentenceCase, shortUrl } from '../pieces/format';
import { ReasonForm } from '../pieces/ReasonForm';
import { Rivals } from '../pieces/Rivals';
import { Failed, Reading } from '../pieces/States';
import { isConflict, subject, type Finding } from './says';

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
  decide: (state: Finding['state'], reason?: string, version?: string | null) => void;
}) {
  const navigate = useNavigate();
  const detail = useQuery({
    queryKey: ['finding', findingKey],
    queryFn: () => answer(api.GET('/api/findings/{key}', { params: { path: { key: findingKey } } })),
  });
  if (detail.isError) return <Failed error={detail.error} retry={() => void detail.refetch()} />;
  if (!detail.data) return <Reading />;
  const { finding, advice, step } = detail.data;
  const withOther = finding.otherPageUrl !== null;
  const withPage = finding.pageUrl !== null && finding.kind !== 'absent';
  return (
    <>
      <h2 className={isConflict(finding) ? 'clay' : undefined} style={{ overflowWrap: 'anywhere' }}>
        {sentenceCase(finding.name)}: {subject(finding, host)}
      </h2>
      <p style={{ overflowWrap: 'anywhere' }}>
        {finding.sentence}{' '}
        {finding.atStake >= 0.5 && (
          <>
            At stake: about <b>{number(finding.atStake)}</b> clicks a month,{' '}
            {finding.kind === 'splitTraffic' || finding.kind === 'pageSwap'
              ? 'as search performance counts them.'
              : 'by estimated volumes and the click curve.'}
          </>
        )}
      </p>
      {(withPage || withOther) && (
        <table className="facts">
          <tbody>
            {withPage && (
              <PageLine
                name={finding.kind === 'unlinkedSupport' ? 'From' : finding.isPageDecided ? 'Assigned page' : 'Page'}
                id={finding.pageId}
                url={finding.pageUrl}
                title={finding.pageTitle}
                host={host}
              />
            )}
            {withOther && (
              <PageLine
                name={finding.kind === 'unlinkedSupport' ? 'To' : 'In its way'}
                id={finding.otherPageId}
                url={finding.otherPageUrl}
                title={finding.otherPageTitle}
                host={host}
              />
            )}
          </tbody>
        </table>
      )}
      {step && (
        <p>
          Decided: <b>{step.remedyName}</b>
          {step.pageUrl && `, for ${shortUrl(step.pageUrl, host)}`}
          {step.note && `: ${step.note}`}.{' '}
          {step.waits ? 'It waits for the next scan or data to be resolved by itself.' : 'Its cause has gone.'}
        </p>
      )}
      <div className="acts">
        {isConflict(finding) && withOther && (
          <Button
            type="primary"
            onClick={() => void navigate(`/findings/conflict?key=${encodeURIComponent(finding.key)}`)}
          >
            Side by side <kbd>c</kbd>
          </Button>
        )}
        {finding.state !== 'accepted' && (
          <Button
            type={isConflict(finding) ? 'default' : 'primary'}
            onClick={() => decide('accepted', undefined, finding.version)}
          >
            Accept <kbd>a</kbd>
          </Button>
        )}
        {finding.state !== 'dismissed' && (
          <Button onClick={() => setDismissing(true)}>
            Dismiss <kbd>d</kbd>
          </Button>
        )}
        {finding.state !== 'resolved' && (
          <Button onClick={() => decide('resolved', undefined, finding.version)}>
            Resolved <kbd>r</kbd>
          </Button>
        )}
        {finding.state !== 'open' && (
          <Button onClick={() => decide('open', undefined, finding.version)}>
            Open again <kbd>o</kbd>
          </Button>
        )}
      </div>
      {dismissing && (
        <ReasonForm
          question="Why is it left as it is?"
          placeholder="such as: both pages are wanted"
          act="Dismiss"
          submit={(reason) => {
            decide('dismissed', reason, finding.version);
            setDismissing(false);
            focusList();
          }}
          close={() => setDismissing(false)}
        />
      )}
      <p>
        State: <b>{finding.state}</b>
        {finding.reason && `, because: ${finding.reason}`}. Found first on {day(finding.firstFoundAt)}.
      </p>
      <Annotations finding={finding} />
      <hr />
      <h2>What can be done</h2>
      <p>{advice}</p>
      {finding.clusterId !== null && (
        <div className="acts">
          <Link to={`/page-map?id=${finding.clusterId}`}>Open on the page map</Link>
          <Link to={`/clusters?id=${finding.clusterId}`}>Open the cluster</Link>
        </div>
      )}
      <Evidence detail={detail.data} />
      <Uncovered detail={detail.data} />
    </>
  );
}

/** What the page never says, and the rivals that have what the site has not. */
function Uncovered({ detail }: { detail: Schema['FindingDetail'] }) {
  const { terms, rivals, evidence } = detail;
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
          <Rivals rivals={rivals} keywords={evidence.length} />
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
        <button className="chip">{finding.assignee ? `assigned to ${finding.assignee}` : 'assign to somebody'}</button>
      </AskText>{' '}
      {finding.assignee && (
        <button className="chip" onClick={() => take.mutate({ assignee: '' })}>
          to nobody
        </button>
      )}{' '}
      <AskText
        label="Note"
        placeholder="what is to be kept in mind"
        act="Note"
        change={(note) => annotate({ note })}
        done={() => 'Noted.'}
      >
        <button className="chip">{finding.note ? 'change the note' : 'add a note'}</button>
      </AskText>
      {finding.note && <span style={{ display: 'block' }}>Note: {finding.note}</span>}
    </p>
  );
}

/** The columns that a kind of finding shows beside the keyword. */
const measures: Partial<Record<Finding['kind'], 'split' | 'swap' | 'words'>> = {
  splitTraffic: 'split',
  pageSwap: 'swap',
  missingOnPage: 'words',
};

function Evidence({ detail }: { detail: Schema['FindingDetail'] }) {
  const { finding, evidence, words } = detail;
  const rows = evidence.map((e, i) => ({ ...e, words: words[i] ?? '' }));
  const measure = measures[finding.kind];
  const withOther = finding.otherPageUrl !== null && finding.kind !== 'twinTitles';
  const withPage =
    finding.pageUrl !== null && !['absent', 'twinTitles', 'openQuestion', 'targetless'].includes(finding.kind);
  if (evidence.length === 0) return null;
  if (finding.kind === 'twinTitles')
    return (
      <>
        <hr />
        <h2>What shows it</h2>
        <p>
          {percent(evidence[0]!.share)} of the words of both titles (or main headings) are the same, endings, stop words
          and the site’s name left out.
        </p>
      </>
    );
  const position = (value: number) =>
    value === 0 ? 'not seen' : Number.isInteger(value) ? String(value) : decimal(value, 1);
  return (
    <>
      <hr />
      <h2>What shows it</h2>
      <table className="facts">
        <thead>
          <tr>
            <th>Keyword</th>
            {measure === 'words' ? <th>Words it lacks</th> : <th className="num">Volume, est.</th>}
            {withPage && (
              <th className="num" title="Position of the page">
                Page
              </th>
            )}
            {withOther && (
              <th className="num" title="Position of the other page">
                Other
              </th>
            )}
            {measure === 'split' && (
              <th className="num" title="The other page’s share of the impressions">
                Its share
              </th>
            )}
            {measure === 'swap' && (
              <th className="num" title="How often the best page changed">
                Changes
              </th>
            )}
            <th className="num">At stake</th>
          </tr>
        </thead>
        <tbody>
          {rows.map((e) => (
            <tr key={e.keywordId}>
              <td>
                <Link to={`/results?id=${e.keywordId}`}>{e.keyword}</Link>
              </td>
              {measure === 'words' ? <td>{e.words}</td> : <td className="num">{number(e.volume)}</td>}
              {withPage && <td className="num">{position(e.position)}</td>}
              {withOther && <td className="num">{position(e.otherPosition)}</td>}
              {measure === 'split' && <td className="num">{percent(e.share)}</td>}
              {measure === 'swap' && <td className="num">{number(e.count)}</td>}
              <td className="num">{number(e.atStake)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}

function PageLine({
  name,
  id,
  url,
  title,
  host,
}: {
  name: string;
  id: number | null;
  url: string | null;
  title: string | null;
  host: string | undefined;
}) {
  return (
    <tr>
      <td className="second" style={{ whiteSpace: 'nowrap' }}>
        {name}
      </td>
      <td className="url">
        <Link to={`/site?id=${id}`}>{shortUrl(url ?? '', host)}</Link>
        <div className="second">{title ?? 'title not known'}</div>
      </td>
    </tr>
  );
}
