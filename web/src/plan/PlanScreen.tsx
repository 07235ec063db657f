import { useQuery } from '@tanstack/react-query';
import { Button } from 'antd';
import { useState } from 'react';
import { Link } from 'react-router';
import { answer, api, type Schema } from '../api/client';
import { useProject } from '../api/hooks';
import { useKeyHelp } from '../app/keys';
import { FindingLine } from '../findings/says';
import { DataTable, type Column } from '../pieces/DataTable';
import { Bound, Choice } from '../pieces/FilterSentence';
import { counted, number, shortUrl } from '../pieces/format';
import { marks, PlotLegend, PlotMark, type Mark } from '../pieces/PlotMark';
import { Failed, NotYet, Reading } from '../pieces/States';
import { Stage } from '../pieces/Stage';
import { Tally } from '../pieces/Tally';
import { exportUrl, useListState } from '../pieces/useListState';
import { isFiltered } from '../site/SiteScreen';

type Row = Schema['PlanItem'];

const help = [{ keys: 'e', does: 'export the plan as XLSX' }];

/** The plan, in the order of what is at stake, to take away as a file. */
export function PlanScreen() {
  const list = useListState();
  const host = useProject().data?.project.host;
  const [tally, setTally] = useState<Schema['ListTally']>();
  useKeyHelp(help);
  const query = { ...list.listing, Mark: list.text('mark') as Mark | undefined, MinDemand: list.numeric('demand') };
  const columns: Column<Row>[] = [
    { key: 'mark', title: '', width: '20px', sorts: false, render: (r) => <PlotMark mark={r.cluster.mark} /> },
    {
      key: 'pageUrl',
      title: 'Page',
      width: 'minmax(130px, 1.8fr)',
      render: (r) =>
        r.cluster.pageUrl ? (
          <span title={r.cluster.pageUrl}>{shortUrl(r.cluster.pageUrl, host)}</span>
        ) : (
          <span className="quiet">no page</span>
        ),
    },
    { key: 'state', title: 'State', width: '64px', sorts: false, render: (r) => r.cluster.pageKind ?? '–' },
    {
      key: 'name',
      title: 'Cluster',
      width: 'minmax(130px, 1.6fr)',
      render: (r) => <span title={r.cluster.name}>{r.cluster.name}</span>,
    },
    {
      key: 'secondary',
      title: 'Secondary keywords',
      width: 'minmax(90px, 1.2fr)',
      sorts: false,
      render: (r) => <span className="second">{r.secondary.join(', ')}</span>,
    },
    { key: 'demand', title: 'Demand', width: '60px', numeric: true, render: (r) => number(r.cluster.demand) },
    {
      key: 'findings',
      title: 'Findings',
      width: 'minmax(108px, 1fr)',
      sorts: false,
      render: (r) => {
        const says = [
          ...r.steps.filter((s) => s.waits).map((s) => `to do: ${s.remedyName}`),
          ...new Set(r.findings.map((f) => f.name)),
        ].join(', ');
        return <span title={says}>{says}</span>;
      },
    },
    {
      key: 'atStake',
      title: 'At stake',
      width: '60px',
      numeric: true,
      render: (r) => <b>{number(r.cluster.atStake)}</b>,
    },
  ];
  const selected = list.text('id');
  const xlsx = exportUrl('/api/plan.xlsx', query);
  return (
    <Stage
      work={
        <>
          <div className="head">
            <h1>Plan</h1>
            <span className="second cut">most at stake first</span>
            <span className="gap" />
            <Button href={exportUrl('/api/plan.csv', query)}>Export CSV</Button>
            <Button type="primary" href={xlsx}>
              Export XLSX
            </Button>
          </div>
          <div className="says">
            Showing{' '}
            <Choice
              label="Mark"
              any="any mark"
              value={query.Mark}
              options={marks.map((value) => ({ value, says: `${value} clusters` }))}
              onChange={(mark) => list.set({ mark })}
            />
            with
            <Bound
              label="Least demand"
              any="any demand"
              value={query.MinDemand}
              says={(v) => `demand from ${number(v)}`}
              onChange={(demand) => list.set({ demand })}
            />
          </div>
          <DataTable
            name="plan"
            query={query}
            read={(Offset, Limit) => answer(api.GET('/api/plan', { params: { query: { ...query, Offset, Limit } } }))}
            columns={columns}
            list={list}
            idOf={(r) => r.cluster.id}
            selected={selected}
            onSelect={(r) => list.set({ id: r.cluster.id })}
            onKey={(key) => key === 'e' && (window.location.assign(xlsx), true)}
            onTally={setTally}
            empty={
              isFiltered(query) ? (
                <NotYet title="Nothing fits">
                  Take a condition out of the sentence above, or search for something else.
                </NotYet>
              ) : (
                <NotYet title="Nothing is planned yet">
                  Group keywords and decide their pages; the plan follows from that.
                </NotYet>
              )
            }
          />
        </>
      }
      pane={
        selected ? (
          <PlanPane key={selected} id={Number(selected)} host={host} />
        ) : (
          <>
            <h2>Select a line</h2>
            <p>
              Its keywords and what to do about it are shown here. The exports hold every line that the sentence lets
              through.
            </p>
          </>
        )
      }
      tally={
        <Tally tally={tally} noun="line" keywords atStake="at stake">
          <PlotLegend />
        </Tally>
      }
    />
  );
}

function PlanPane({ id, host }: { id: number; host: string | undefined }) {
  const detail = useQuery({
    queryKey: ['cluster', id],
    queryFn: () => answer(api.GET('/api/clusters/{id}', { params: { path: { id } } })),
  });
  if (detail.isError) return <Failed error={detail.error} retry={() => void detail.refetch()} />;
  if (!detail.data) return <Reading />;
  const { cluster, members, findings } = detail.data;
  return (
    <>
      <h2 style={{ wordBreak: 'break-word' }}>
        {cluster.pageUrl ? shortUrl(cluster.pageUrl, host) : `No page for “${cluster.name}”`}
      </h2>
      <p>
        {cluster.pageKind === 'planned' && 'To be written. '}
        {cluster.pageTitle && `“${cluster.pageTitle}”. `}
        {counted(cluster.size, 'keyword')}, demand {number(cluster.demand)} a month, estimated.{' '}
        <Link to={`/page-map?id=${cluster.id}`}>Open on the page map</Link>
      </p>
      <hr />
      <h2>What to do</h2>
      {findings.length === 0 ? (
        <p>{cluster.pageKind === 'planned' ? 'Write the page.' : 'Nothing was found.'}</p>
      ) : (
        findings.map((f) => <FindingLine key={f.key} finding={f} />)
      )}
      <hr />
      <h2>Keywords</h2>
      <table className="facts">
        <tbody>
          {members.map((m, i) => (
            <tr key={m.keywordId}>
              <td>
                {m.phrase}
                {i === 0 && <span className="quiet"> primary</span>}
              </td>
              <td className="num">{number(m.volume)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}
