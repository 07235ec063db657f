import { useQuery } from '@tanstack/react-query';
import { Select } from 'antd';
import { useState } from 'react';
import { Link } from 'react-router';
import { answer, api, type Schema } from '../api/client';
import { useProject } from '../api/hooks';
import { resultListEvidence } from '../api/evidence';
import { keyOf } from '../api/keys';
import { certainty } from '../pieces/Expected';
import { counted, day, decimal, number, sentenceCase, shortUrl } from '../pieces/format';
import { SaveHeading } from '../pieces/SaveHeading';
import { Failed, Reading } from '../pieces/States';
import { ComparedLists } from './ComparedLists';
import ui from '../pieces/ui.module.css';

/** A keyword with its result lists. */
export function ResultListPane({ keywordId }: { keywordId: number }) {
  const view = useResultList(keywordId);
  if (view.isError) return <Failed error={view.error} retry={() => void view.refetch()} />;
  if (!view.data) return <Reading />;
  const { keyword } = view.data;
  return (
    <>
      <h2>“{keyword.phrase}”</h2>
      <p>
        {keyword.volume === null ? 'Its volume is not known' : `${number(keyword.volume)} searches a month, estimated`}
        {keyword.difficulty !== null && `, difficulty ${decimal(keyword.difficulty, 0)}`}
        {keyword.intent && `, ${keyword.intent} intent`}.{' '}
        {keyword.clusterId ? (
          <>
            {keyword.capture === 'expected' ? 'Expected in' : 'In'} the cluster{' '}
            <Link to={`/clusters?id=${keyword.clusterId}`}>{keyword.clusterName}</Link>.
          </>
        ) : (
          'In no cluster.'
        )}
      </p>
      <hr />
      <ResultListPart keywordId={keywordId} />
    </>
  );
}

const useResultList = (keywordId: number, listId?: number) => useQuery(resultListEvidence(keywordId, listId));

/** A keyword's result lists: one of them, how it changed, and how it compares with another keyword's. */
export function ResultListPart({ keywordId }: { keywordId: number }) {
  const [listId, setListId] = useState<number>();
  const [before, setBefore] = useState<number>();
  const view = useResultList(keywordId, listId);
  if (view.isError) return <Failed error={view.error} retry={() => void view.refetch()} />;
  if (!view.data) return <Reading />;
  const { keyword, list, lists } = view.data;
  if (!list) return view.data.expected ? <Expected keyword={view.data.expected} /> : <NoResults keyword={keyword} />;
  const others = lists.filter((l) => l.listId !== list.listId);
  return (
    <>
      <h2>Results of {day(list.capturedOn)}</h2>
      <p>
        {list.origin === 'capture' ? `Captured, first ${list.depth ?? 10} asked for.` : 'Imported.'}{' '}
        {keyword.captureNote && <span className={ui.clay}>The last capture failed: {keyword.captureNote}</span>}
      </p>
      {lists.length > 1 && (
        <div className={`${ui.line} ${ui.wrapping}`}>
          <Select
            size="small"
            aria-label="Which list"
            value={list.listId}
            options={lists.map((l) => ({
              value: l.listId,
              label: `${day(l.capturedOn)}, ${counted(l.results, 'result')}`,
            }))}
            onChange={setListId}
          />
          <span className={`${ui.second} ${ui.nowrap}`}>compared with</span>
          <Select
            size="small"
            allowClear
            aria-label="Compared with"
            placeholder="nothing"
            value={before}
            options={others.map((l) => ({ value: l.listId, label: day(l.capturedOn) }))}
            onChange={(id?: number) => setBefore(id)}
          />
        </div>
      )}
      {before !== undefined && before !== list.listId ? (
        <Changes keywordId={keywordId} before={before} after={list.listId} />
      ) : (
        <Results view={view.data} />
      )}
    </>
  );
}

/** Not asked, failed and empty are three different things, each with a way on. */
function NoResults({ keyword }: { keyword: Schema['KeywordRow'] }) {
  return keyword.capture === 'failed' ? (
    <>
      <h2 className={ui.clay}>The capture failed</h2>
      <p>{keyword.captureNote}</p>
      <p>
        Nothing was paid for it. <Link to="/results?show=failed">Try failed captures again</Link>
      </p>
    </>
  ) : (
    <>
      <h2>No results yet</h2>
      <p>
        Nobody asked for them. Without a result list a keyword cannot be grouped.{' '}
        <Link to="/results?show=none">Capture results</Link>
      </p>
    </>
  );
}

function Results({ view }: { view: Schema['ResultListView'] }) {
  const host = useProject().data?.project.host;
  const { results, questions, related } = view;
  const { clusterId } = view.keyword;
  const own = results.filter((r) => r.pageId !== null);
  if (results.length === 0)
    return (
      <p>
        The search came back empty: there is nothing in the market for these words. Capture it again if that seems
        wrong.
      </p>
    );
  return (
    <>
      <p>
        {own.length === 0
          ? 'No page of the site is among them.'
          : own.length === 1
            ? `One page of the site is among them, at position ${own[0]!.position}.`
            : `${own.length} pages of the site are among them, at positions ${own.map((r) => r.position).join(', ')}.`}
      </p>
      <table className={ui.facts}>
        <tbody>
          {results.map((r) => (
            <tr key={r.identity} className={r.pageId !== null ? ui.own : undefined}>
              <td className={`${ui.num} ${ui.padded}`}>{r.position}</td>
              <td>
                <div>
                  {r.title ?? <span className={ui.quiet}>no title captured</span>}{' '}
                  {r.title && clusterId !== null && <SaveHeading heading={r.title} of={{ clusterId }} />}
                </div>
                <div className={`${ui.second} ${ui.wrap}`}>
                  {r.pageId !== null ? (
                    <Link to={`/site?id=${r.pageId}`}>
                      <b>{shortUrl(r.url, host)}</b>
                    </Link>
                  ) : (
                    shortUrl(r.url, undefined)
                  )}
                </div>
                {r.snippet && <div className={ui.quiet}>{r.snippet}</div>}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {questions.length > 0 && (
        <>
          <h3 className={ui.spaced}>People also ask</h3>
          {questions.map((q) => (
            <div key={q}>
              {q} {clusterId !== null && <SaveHeading heading={q} of={{ clusterId }} />}
            </div>
          ))}
        </>
      )}
      {related.length > 0 && (
        <>
          <h3 className={ui.spaced}>Related searches</h3>
          <div className={ui.second}>{related.join(', ')}</div>
        </>
      )}
    </>
  );
}

function Changes({ keywordId, before, after }: { keywordId: number; before: number; after: number }) {
  const changes = useQuery({
    queryKey: keyOf('result-changes', keywordId, before, after),
    queryFn: () =>
      answer(
        api.GET('/api/keywords/{id}/results/changes', {
          params: { path: { id: keywordId }, query: { before, after } },
        }),
      ),
  });
  if (changes.isError) return <Failed error={changes.error} retry={() => void changes.refetch()} />;
  return changes.data ? <ComparedLists view={changes.data} overTime /> : <Reading />;
}

function Expected({ keyword }: { keyword: Schema['ExpectedKeyword'] }) {
  return (
    <>
      <h2>Expected without results</h2>
      <p>
        {sentenceCase(certainty(keyword.certainty))} certain to belong with{' '}
        {keyword.supports.map((phrase, i) => (
          <span key={phrase}>
            {i > 0 && ', '}“{phrase}”
          </span>
        ))}
        , which {keyword.supports.length === 1 ? 'is' : 'are'} captured. It was not captured itself, so nothing was paid
        for it and it proves nothing. Capture it at any time to check.
      </p>
    </>
  );
}
