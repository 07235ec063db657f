import { Button } from 'antd';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { answer, api, type Schema } from '../api/client';
import { useProject } from '../api/hooks';
import { useKeyHelp } from '../app/keys';
import { intents, type Intent } from '../keywords/intents';
import { DataTable, type Column } from '../pieces/DataTable';
import { Bound, Choice } from '../pieces/FilterSentence';
import { decimal, number, shortUrl } from '../pieces/format';
import { marks, PlotLegend, PlotMark, type Mark } from '../pieces/PlotMark';
import { NotYet } from '../pieces/States';
import { Stage } from '../pieces/Stage';
import { Tally } from '../pieces/Tally';
import { exportUrl, useListState } from '../pieces/useListState';
import { isFiltered } from '../site/SiteScreen';
import { ClusterPane } from './ClusterPane';
import { RegroupPane, ruleNames } from './RegroupPane';

type Row = Schema['ClusterRow'];

const help = [
  { keys: 'g', does: 'regroup' },
  { keys: 'Enter', does: 'open the selected cluster on the page map' },
];

/** A demand with a bar in one hue beside it; full width stands for 10,000 searches a month. */
const DemandBar = ({ demand }: { demand: number }) => (
  <span className="bar" style={{ width: Math.max(1, Math.min(34, (demand / 10_000) * 34)) }} />
);

/** Clusters with their members and why they stand together. */
export function ClustersScreen() {
  const list = useListState();
  const navigate = useNavigate();
  const project = useProject().data;
  const host = project?.project.host;
  const [tally, setTally] = useState<Schema['ListTally']>();
  const [regrouping, setRegrouping] = useState(false);
  const [row, setRow] = useState<Row>();
  useKeyHelp(help);
  const query = {
    ...list.listing,
    Mark: list.text('mark') as Mark | undefined,
    MinDemand: list.numeric('demand'),
    MinSize: list.numeric('size'),
    Intent: list.text('intent') as Intent | undefined,
  };
  const columns: Column<Row>[] = [
    { key: 'mark', title: '', width: '20px', sorts: false, render: (r) => <PlotMark mark={r.mark} /> },
    {
      key: 'name',
      title: 'Cluster',
      width: 'minmax(110px, 2fr)',
      render: (r) => (
        <span title={r.name}>
          {r.name}
          {r.isLocked && <span className="quiet"> locked</span>}
        </span>
      ),
    },
    { key: 'size', title: 'Keywords', width: '68px', numeric: true, render: (r) => number(r.size) },
    { key: 'demand', title: 'Demand', width: '58px', numeric: true, render: (r) => number(r.demand) },
    { key: 'bar', title: '', width: '38px', sorts: false, render: (r) => <DemandBar demand={r.demand} /> },
    {
      key: 'meanDifficulty',
      title: 'Difficulty',
      width: '60px',
      numeric: true,
      render: (r) => decimal(r.meanDifficulty, 0),
    },
    {
      key: 'intent',
      title: 'Intent',
      width: '90px',
      render: (r) => r.intent ?? <span className="quiet">not known</span>,
    },
    { key: 'cohesion', title: 'Cohesion', width: '58px', numeric: true, render: (r) => decimal(r.cohesion, 2) },
    {
      key: 'weakMembers',
      title: 'Weak',
      width: '38px',
      numeric: true,
      render: (r) => (r.weakMembers > 0 ? number(r.weakMembers) : <span className="quiet">0</span>),
    },
    {
      key: 'atStake',
      title: 'At stake',
      width: '58px',
      numeric: true,
      render: (r) => (r.atStake >= 0.5 ? number(r.atStake) : <span className="quiet">0</span>),
    },
    {
      key: 'pageUrl',
      title: 'Page',
      width: 'minmax(90px, 1.7fr)',
      render: (r) =>
        r.pageUrl ? <span title={r.pageUrl}>{shortUrl(r.pageUrl, host)}</span> : <span className="quiet">no page</span>,
    },
  ];
  const selected = list.text('id');
  const grouping = project?.grouping;
  return (
    <Stage
      work={
        <>
          <div className="head">
            <h1>Clusters</h1>
            <span className="second cut">
              {grouping &&
                `first ${grouping.depth} results, at least ${grouping.minOverlap} shared, ${ruleNames[grouping.rule]} rule`}
            </span>
            <span className="gap" />
            <Button href={exportUrl('/api/clusters.csv', query)}>Export CSV</Button>
            <Button type="primary" onClick={() => setRegrouping(true)}>
              {project?.groupedAt ? 'Regroup' : 'Group keywords'}
            </Button>
          </div>
          <div className="says">
            Showing{' '}
            <Bound
              label="Least demand"
              any="any demand"
              value={query.MinDemand}
              says={(v) => `demand from ${number(v)}`}
              onChange={(demand) => list.set({ demand })}
            />
            with
            <Choice
              label="Mark"
              any="any mark"
              value={query.Mark}
              options={marks.map((value) => ({ value, says: value }))}
              onChange={(mark) => list.set({ mark })}
            />
            <span className="comma">,</span>
            <Bound
              label="Fewest keywords"
              any="any size"
              value={query.MinSize}
              says={(v) => `${number(v)} keywords or more`}
              onChange={(size) => list.set({ size })}
            />
            and
            <Choice
              label="Intent"
              any="any intent"
              value={query.Intent}
              options={intents}
              onChange={(intent) => list.set({ intent })}
            />
          </div>
          <DataTable
            name="clusters"
            query={query}
            read={(Offset, Limit) =>
              answer(api.GET('/api/clusters', { params: { query: { ...query, Offset, Limit } } }))
            }
            columns={columns}
            list={list}
            idOf={(r) => r.id}
            selected={selected}
            onSelect={(r) => {
              setRegrouping(false);
              setRow(r);
              list.set({ id: r.id });
            }}
            onKey={(key, at) => {
              if (key === 'g') setRegrouping(true);
              else if (key === 'Enter' && at) void navigate(`/page-map?id=${at.id}`);
              else return false;
              return true;
            }}
            onTally={setTally}
            empty={
              isFiltered(query) ? (
                <NotYet title="No cluster fits">
                  Take a condition out of the sentence above, or search for something else.
                </NotYet>
              ) : (
                <NotYet title="Not grouped yet">
                  <p>Once keywords have result lists, they are grouped by how many results they share.</p>
                  <Button type="primary" onClick={() => setRegrouping(true)}>
                    Group keywords
                  </Button>
                </NotYet>
              )
            }
          />
        </>
      }
      pane={
        regrouping && project ? (
          <RegroupPane project={project} close={() => setRegrouping(false)} />
        ) : selected ? (
          <ClusterPane key={selected} id={Number(selected)} host={host} />
        ) : (
          <>
            <h2>Select a cluster</h2>
            <p>Why its keywords stand together is shown here: which results they share, at which positions.</p>
          </>
        )
      }
      tally={
        <Tally
          tally={tally}
          noun="cluster"
          keywords
          difficulty
          selected={row && selected ? `1, demand ${number(row.demand)}` : undefined}
        >
          <PlotLegend />
        </Tally>
      }
    />
  );
}
