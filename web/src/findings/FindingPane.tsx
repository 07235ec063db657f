import { useQuery } from '@tanstack/react-query';
import { Button, Input } from 'antd';
import { useState } from 'react';
import { Link } from 'react-router';
import { answer, api } from '../api/client';
import { focusList } from '../app/keys';
import { day, number, sentenceCase, shortUrl } from '../pieces/format';
import { Failed, Reading } from '../pieces/States';
import { isConflict, kindName, remedies, sentence, type Finding } from './says';

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
  decide: (state: Finding['state'], reason?: string) => void;
}) {
  const [reason, setReason] = useState('');
  const detail = useQuery({
    queryKey: ['finding', findingKey],
    queryFn: () => answer(api.GET('/api/findings/{key}', { params: { path: { key: findingKey } } })),
  });
  if (detail.isError) return <Failed error={detail.error} retry={() => void detail.refetch()} />;
  if (!detail.data) return <Reading />;
  const { finding, evidence } = detail.data;
  const withOther = finding.otherPageUrl !== null;
  const withPage = finding.pageUrl !== null && finding.kind !== 'absent';
  const dismiss = () => {
    if (reason.trim() === '') return;
    decide('dismissed', reason);
    setDismissing(false);
    focusList();
  };
  return (
    <>
      <h2 className={isConflict(finding.kind) ? 'clay' : undefined}>
        {sentenceCase(kindName(finding.kind))}: {finding.clusterName}
      </h2>
      <p>
        {sentence(finding, host)} At stake: about <b>{number(finding.atStake)}</b> clicks a month, by estimated volumes
        and the default click curve.
      </p>
      {(withPage || withOther) && (
        <table className="facts">
          <tbody>
            {withPage && (
              <PageLine
                name={finding.isPageDecided ? 'Assigned page' : 'Suggested page'}
                id={finding.pageId}
                url={finding.pageUrl}
                title={finding.pageTitle}
                host={host}
              />
            )}
            {withOther && (
              <PageLine
                name="In its way"
                id={finding.otherPageId}
                url={finding.otherPageUrl}
                title={finding.otherPageTitle}
                host={host}
              />
            )}
          </tbody>
        </table>
      )}
      <div className="acts">
        {finding.state !== 'accepted' && (
          <Button type="primary" onClick={() => decide('accepted')}>
            Accept <kbd>a</kbd>
          </Button>
        )}
        {finding.state !== 'dismissed' && (
          <Button onClick={() => setDismissing(true)}>
            Dismiss <kbd>d</kbd>
          </Button>
        )}
        {finding.state !== 'resolved' && (
          <Button onClick={() => decide('resolved')}>
            Resolved <kbd>r</kbd>
          </Button>
        )}
        {finding.state !== 'open' && (
          <Button onClick={() => decide('open')}>
            Open again <kbd>o</kbd>
          </Button>
        )}
      </div>
      {dismissing && (
        <form
          className="form"
          onSubmit={(event) => {
            event.preventDefault();
            dismiss();
          }}
        >
          <label>
            <span>Why is it left as it is?</span>
            <Input
              autoFocus
              value={reason}
              placeholder="such as: both pages are wanted"
              onChange={(event) => setReason(event.target.value)}
              onKeyDown={(event) => {
                if (event.key !== 'Escape') return;
                setDismissing(false);
                focusList();
              }}
            />
          </label>
          <div className="acts">
            <Button type="primary" htmlType="submit" disabled={reason.trim() === ''}>
              Dismiss
            </Button>
            <Button onClick={() => setDismissing(false)}>Cancel</Button>
          </div>
        </form>
      )}
      <p>
        State: <b>{finding.state}</b>
        {finding.reason && `, because: ${finding.reason}`}. Found first on {day(finding.firstFoundAt)}.
      </p>
      <hr />
      <h2>What can be done</h2>
      <p>{remedies[finding.kind]}</p>
      <div className="acts">
        <Link to={`/page-map?id=${finding.clusterId}`}>Open on the page map</Link>
        <Link to={`/clusters?id=${finding.clusterId}`}>Open the cluster</Link>
      </div>
      <hr />
      <h2>What shows it</h2>
      <table className="facts">
        <thead>
          <tr>
            <th>Keyword</th>
            <th className="num">Volume, est.</th>
            {withPage && (
              <th className="num" title="Position of the page">
                Page
              </th>
            )}
            {withOther && (
              <th className="num" title="Position of the page in its way">
                Other
              </th>
            )}
            <th className="num">At stake</th>
          </tr>
        </thead>
        <tbody>
          {evidence.map((e) => (
            <tr key={e.keywordId}>
              <td>
                <Link to={`/results?id=${e.keywordId}`}>{e.keyword}</Link>
              </td>
              <td className="num">{number(e.volume)}</td>
              {withPage && <td className="num">{e.position || 'not seen'}</td>}
              {withOther && <td className="num">{e.otherPosition || 'not seen'}</td>}
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
