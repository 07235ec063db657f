import { useQuery } from '@tanstack/react-query';
import { Button, Checkbox } from 'antd';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import type { Schema } from '../api/client';
import { clusterEvidence } from '../api/evidence';
import { usePlaceName } from '../app/recent';
import { BriefButton } from '../briefs/BriefButton';
import { FindingLine } from '../findings/says';
import { giveKeywords } from '../pieces/drag';
import { certainty } from '../pieces/Expected';
import { counted, decimal, number, percent, shortUrl } from '../pieces/format';
import { DemandCalendar } from '../pieces/Season';
import { Failed, Reading } from '../pieces/States';
import { ClusterEdits, CutSuggestion, MemberEdits } from './ClusterEdits';
import { ResultGrid } from './ResultGrid';
import ui from '../pieces/ui.module.css';

/** Why a cluster belongs together, what was found about it, and its members. */
export function ClusterPane({ id, host }: { id: number; host: string | undefined }) {
  const navigate = useNavigate();
  const [chosen, setChosen] = useState<readonly number[]>([]);
  const detail = useQuery(clusterEvidence(id));
  usePlaceName(detail.data?.cluster.name);
  if (detail.isError) return <Failed error={detail.error} retry={() => void detail.refetch()} />;
  if (!detail.data) return <Reading />;
  const { cluster, members, expected, grid, findings } = detail.data;
  return (
    <>
      <h2>
        {cluster.size > 1
          ? `Why these keywords belong together: “${cluster.name}”`
          : `“${cluster.name}” ${cluster.expected > 0 ? 'is captured alone' : 'stands alone'}`}
      </h2>
      <p>{says(detail.data)}</p>
      {detail.data.cautions.map((caution) => (
        <p key={caution} className={ui.clay}>
          {caution}
        </p>
      ))}
      <ResultGrid grid={grid} />
      <hr />
      <h2>Page</h2>
      <p>
        {cluster.pageUrl ? (
          <>
            <Link to={`/site?id=${cluster.pageId}`}>{shortUrl(cluster.pageUrl, host)}</Link> is its {cluster.pageKind}{' '}
            page.
          </>
        ) : cluster.suggestedUrl ? (
          <>
            No page yet. Suggested: {shortUrl(cluster.suggestedUrl, host)}, {cluster.verdict}, strength{' '}
            {decimal(cluster.strength, 0)} of 100.
          </>
        ) : (
          'No page yet, and none of the site’s pages fits.'
        )}
      </p>
      <div className={ui.acts}>
        <Button
          type={cluster.pageUrl ? 'default' : 'primary'}
          onClick={() => void navigate(`/page-map?id=${cluster.id}`)}
        >
          {cluster.pageUrl ? 'Open on the page map' : 'Decide its page'}
        </Button>
        <BriefButton clusterId={cluster.id} />
      </div>
      {cluster.season && <DemandCalendar season={cluster.season} of={`“${cluster.name}”`} />}
      {findings.length > 0 && (
        <>
          <hr />
          <h2>Findings</h2>
          {findings.map((f) => (
            <FindingLine key={f.key} finding={f} />
          ))}
        </>
      )}
      <hr />
      <ClusterEdits key={cluster.id} cluster={cluster} />
      <hr />
      <h2>Members</h2>
      <CutSuggestion cluster={cluster} tick={setChosen} />
      <MemberEdits cluster={cluster} chosen={chosen} clear={() => setChosen([])} />
      <table className={ui.facts}>
        <thead>
          <tr>
            <th aria-label="Ticked" />
            <th>Keyword</th>
            <th className={ui.num}>Volume</th>
            <th className={ui.num} title={`Results shared with the primary, of the first ${detail.data.depth}`}>
              Shared
            </th>
            <th
              className={ui.num}
              title="How many more results it shares with this primary than with that of any other cluster"
            >
              Margin
            </th>
            <th className={ui.num} title="Rank-biased overlap with the primary, 0 to 1">
              Rank
            </th>
            <th className={ui.num} title="Silhouette, −1 to 1: below 0 another cluster fits better">
              Fit
            </th>
            <th className={ui.num} title="Best position of an own page">
              Own
            </th>
          </tr>
        </thead>
        <tbody>
          {members.map((m, i) => (
            <tr
              key={m.keywordId}
              draggable
              onDragStart={(event) =>
                giveKeywords(event.dataTransfer, chosen.includes(m.keywordId) ? chosen : [m.keywordId])
              }
            >
              <td>
                <Checkbox
                  aria-label={`Tick ${m.phrase}`}
                  checked={chosen.includes(m.keywordId)}
                  onChange={(event) =>
                    setChosen(event.target.checked ? [...chosen, m.keywordId] : chosen.filter((k) => k !== m.keywordId))
                  }
                />
              </td>
              <td>
                <Link to={`/keywords?id=${m.keywordId}`}>{m.phrase}</Link>
                {i === 0 && <span className={ui.quiet}> primary</span>}
                {m.nearest && (
                  <div className={ui.clay}>
                    weak: fits <Link to={`/clusters?id=${m.nearest.id}`}>{m.nearest.name}</Link> better
                  </div>
                )}
                {m.bridge && m.bridge.id !== m.nearest?.id && (
                  <div className={ui.quiet}>
                    bridge to <Link to={`/clusters?id=${m.bridge.id}`}>{m.bridge.name}</Link>
                  </div>
                )}
                {m.nextBest && m.nextBest.id !== m.nearest?.id && m.nextBest.id !== m.bridge?.id && (
                  <div className={ui.quiet}>
                    unsettled: nearly as much of <Link to={`/clusters?id=${m.nextBest.id}`}>{m.nextBest.name}</Link>
                  </div>
                )}
              </td>
              <td className={ui.num}>{number(m.volume)}</td>
              <td className={ui.num}>{i === 0 ? '' : m.overlap}</td>
              <td className={ui.num} title={m.nextBest ? 'unsettled: at most one result decides' : undefined}>
                {m.margin}
                {m.nextBest && '?'}
              </td>
              <td className={ui.num}>{i === 0 ? '' : decimal(m.rankBiasedOverlap, 2)}</td>
              <td className={m.fit < 0 ? `${ui.num} ${ui.clay}` : ui.num}>
                {cluster.size > 1 ? decimal(m.fit, 2) : ''}
              </td>
              <td className={ui.num}>{m.ownPosition ?? '–'}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {members.length < cluster.size && (
        <p className={ui.quiet}>
          The {number(members.length)} most searched of {number(cluster.size)} are shown.
        </p>
      )}
      {expected.length > 0 && <ExpectedMembers expected={expected} all={cluster.expected} />}
    </>
  );
}

/** Keywords that others speak for: they count towards the demand of the cluster, and prove nothing. */
function ExpectedMembers({ expected, all }: { expected: Schema['ExpectedKeyword'][]; all: number }) {
  return (
    <>
      <h3>Expected without results</h3>
      <p className={ui.second}>
        Not captured, so that they count towards demand and prove nothing. Capture one, and it goes where its results
        put it.
      </p>
      <table className={ui.facts} aria-label="Expected members">
        <thead>
          <tr>
            <th>Keyword</th>
            <th className={ui.num}>Volume</th>
            <th className={ui.num} title="The probability that its results would put it here">
              Certainty
            </th>
          </tr>
        </thead>
        <tbody>
          {expected.map((k) => (
            <tr key={k.id}>
              <td>
                <Link to={`/results?show=expected&id=${k.id}`} title={`Spoken for by ${k.supports.join(', ')}`}>
                  {k.phrase}
                </Link>
              </td>
              <td className={ui.num}>{number(k.volume)}</td>
              <td className={ui.num}>{certainty(k.certainty)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {expected.length < all && (
        <p className={ui.quiet}>
          The {number(expected.length)} most searched of {number(all)} are shown.
        </p>
      )}
    </>
  );
}

function says({ cluster, least, most, depth, holdingTogether, unsettled }: Schema['ClusterDetail']): string {
  const more = cluster.expected === 1 ? 'keyword is' : 'keywords are';
  const expected = cluster.expected === 0 ? '' : ` ${number(cluster.expected)} more ${more} expected in it.`;
  if (least === null || most === null)
    return `It shares too few of its first ${depth} results with any other keyword that is captured.${expected}`;
  const shared = least === most ? `${least}` : `${least} to ${most}`;
  return (
    `${counted(cluster.size, 'keyword')} share ${shared} of their first ${depth} results with the primary. ` +
    `${counted(holdingTogether, 'page')} ${holdingTogether === 1 ? 'stands' : 'stand'} in at least half of the lists. ` +
    `Two members share ${percent(cluster.cohesion ?? 0)} on average.` +
    (unsettled === 0
      ? ''
      : ` ${counted(unsettled, 'keyword')} ${unsettled === 1 ? 'is' : 'are'} unsettled: at most one result decides between this cluster and the next best.`) +
    expected
  );
}
