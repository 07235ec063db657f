import { useQuery } from '@tanstack/react-query';
import { Button } from 'antd';
import { Link, useNavigate } from 'react-router';
import { answer, api, type Schema } from '../api/client';
import { useChange } from '../api/hooks';
import { findingEvidence } from '../api/evidence';
import { usePlaceName } from '../app/recent';
import { focusList } from '../app/keys';
import { AskText } from '../pieces/AskText';
import { counted, day, decimal, number, percent, sentenceCase, shortUrl } from '../pieces/format';
import { ReasonForm } from '../pieces/ReasonForm';
import { Rivals } from '../pieces/Rivals';
import { Failed, Reading } from '../pieces/States';
import { isConflict, stateOf, type Finding } from './says';

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
  const detail = useQuery(findingEvidence(findingKey));
  usePlaceName(detail.data?.finding.subject);
  if (detail.isError) return <Failed error={detail.error} retry={() => void detail.refetch()} />;
  if (!detail.data) return <Reading />;
  const { finding, advice, step, certainty } = detail.data;
  const conflict = isConflict(finding);
  const pageId = finding.pages[0]?.id;
  return (
    <>
      <h2 className={conflict ? 'clay wrap' : 'wrap'}>{heading(finding)}</h2>
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
      <div className="acts">
        {conflict && (
          <Button
            type="primary"
            onClick={() => void navigate(`/findings/conflict?key=${encodeURIComponent(finding.key)}`)}
          >
            Decide side by side <kbd>c</kbd>
          </Button>
        )}
        {finding.state !== 'accepted' && (
          <Button
            type={conflict ? 'default' : 'primary'}
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
        <div className="acts">
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
        <button className="chip">{finding.assignee ? `assigned to ${finding.assignee}` : 'assign to somebody'}</button>
      </AskText>{' '}
      {finding.assignee && (
        <button className="chip" onClick={() => take.mutate({ assignee: '' })}>
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
        <button className="chip">{finding.note ? 'change the note' : 'add a note'}</button>
      </AskText>
      {finding.note && <span style={{ display: 'block' }}>Note: {finding.note}</span>}
    </p>
  );
}

type SignView = Schema['SignView'];

/** What a finding is called at the top of its pane. */
const heading = (f: Finding) =>
  isConflict(f) && f.clusterName
    ? `${f.pageCount === 2 ? 'Two' : number(f.pageCount)} pages chase “${f.clusterName}”`
    : `${sentenceCase(f.name)}: ${f.subject}`;

/** Each kind of sign with the number of keywords that show it and the clicks that they are about. */
function Shown({ signs }: { signs: SignView[] }) {
  const kinds = [...new Set(signs.map((s) => s.kind))].map((kind) => signs.filter((s) => s.kind === kind));
  return (
    <table className="facts">
      <thead>
        <tr>
          <th>What shows it</th>
          <th className="num">Keywords</th>
          <th className="num">Clicks</th>
        </tr>
      </thead>
      <tbody>
        {kinds.map((of) => {
          const keywords = new Set(of.flatMap((s) => s.facts.map((f) => f.keywordId).filter((id) => id !== null))).size;
          return (
            <tr key={of[0]!.kind}>
              <td>{sentenceCase(of[0]!.name)}</td>
              <td className="num">{keywords > 0 ? number(keywords) : '–'}</td>
              <td className="num">{number(of.reduce((sum, s) => sum + s.atStake, 0))}</td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}

/** The pages that a finding is about. */
function Pages({ detail, host }: { detail: Schema['FindingDetail']; host: string | undefined }) {
  const { pages, finding } = detail;
  if (pages.length === 0) return null;
  return (
    <>
      <hr />
      <h2>{pages.length === 1 ? 'The page' : 'The pages'}</h2>
      <table className="facts">
        <thead>
          <tr>
            <th aria-label="Page" />
            <th className="num" title="The best in the result lists of its keywords">
              Position
            </th>
            <th className="num" title="A month">
              Clicks
            </th>
            <th className="num">Links in</th>
          </tr>
        </thead>
        <tbody>
          {pages.map((p) => (
            <tr key={p.id}>
              <td className="url">
                <Link to={`/site?id=${p.id}`}>{shortUrl(p.url, host)}</Link>
                <div className="second">{p.title ?? 'title not known'}</div>
              </td>
              <td className="num">{p.position === null ? '–' : number(p.position)}</td>
              <td className="num">{number(p.clicks)}</td>
              <td className="num">{p.linksIn === null ? '–' : number(p.linksIn)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {finding.pageCount > pages.length && (
        <p>
          <span className="quiet">and {number(finding.pageCount - pages.length)} more, which the export lists</span>
        </p>
      )}
    </>
  );
}

/** The columns that a kind of sign shows beside the keyword. */
const measures: Partial<Record<SignView['kind'], 'split' | 'swap' | 'words'>> = {
  splitTraffic: 'split',
  pageSwap: 'swap',
  missingOnPage: 'words',
};

/** Every sign with its facts, the strongest one open. */
function Evidence({ signs, host }: { signs: SignView[]; host: string | undefined }) {
  return (
    <>
      <hr />
      <h2>Evidence</h2>
      {signs.map((s, i) => (
        <details key={`${s.kind} ${s.clusterId} ${s.page?.id} ${s.others[0]?.id}`} open={i === 0} className="evidence">
          <summary>
            {sentenceCase(s.name)}
            {s.clusterName && <span className="second"> {s.clusterName}</span>}
          </summary>
          <p className="wrap">{s.sentence}</p>
          <Facts sign={s} />
          {s.others.length > 1 && (
            <ul className="wrap">
              {s.others.map((o) => (
                <li key={o.id}>
                  <Link to={`/site?id=${o.id}`}>{shortUrl(o.url, host)}</Link>
                </li>
              ))}
              {s.otherCount > s.others.length && (
                <li className="quiet">and {number(s.otherCount - s.others.length)} more</li>
              )}
            </ul>
          )}
        </details>
      ))}
    </>
  );
}

function Facts({ sign }: { sign: SignView }) {
  const facts = sign.facts.filter((f) => f.keywordId !== null);
  const measure = measures[sign.kind];
  if (sign.kind.startsWith('twin') && sign.facts[0])
    return (
      <p>
        {sign.others.length > 1 ? 'At least ' : ''}
        {percent(sign.facts[0].share)}{' '}
        {sign.kind === 'twinTexts'
          ? 'of the runs of five words of their texts are the same, as estimated.'
          : 'of their words are the same, endings, stop words and the site’s name left out.'}
      </p>
    );
  if (facts.length === 0) return null;
  const withPage = sign.page !== null && !['absent', 'openQuestion'].includes(sign.kind);
  const withOther = sign.others.length > 0;
  const position = (value: number) =>
    value === 0 ? 'not seen' : Number.isInteger(value) ? String(value) : decimal(value, 1);
  return (
    <>
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
          {facts.map((e, i) => (
            <tr key={e.keywordId}>
              <td>
                <Link to={`/results?id=${e.keywordId}`}>{e.keyword}</Link>
              </td>
              {measure === 'words' ? (
                <td>{sign.words[i]}</td>
              ) : (
                <td className="num">{e.volume === null ? 'unknown' : number(e.volume)}</td>
              )}
              {withPage && <td className="num">{position(e.position)}</td>}
              {withOther && <td className="num">{position(e.otherPosition)}</td>}
              {measure === 'split' && <td className="num">{percent(e.share)}</td>}
              {measure === 'swap' && <td className="num">{number(e.count)}</td>}
              <td className="num">{number(e.atStake)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {sign.factCount > sign.facts.length && (
        <p className="quiet">and {counted(sign.factCount - sign.facts.length, 'more keyword')}</p>
      )}
    </>
  );
}
