import { useQuery } from '@tanstack/react-query';
import { Button } from 'antd';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { answer, api, type Schema } from '../api/client';
import { useChange, useProject } from '../api/hooks';
import { useKeyHelp } from '../app/keys';
import { AskText } from '../pieces/AskText';
import { DataTable, type Column } from '../pieces/DataTable';
import { Choice } from '../pieces/FilterSentence';
import { counted, number } from '../pieces/format';
import { NotYet } from '../pieces/States';
import { Stage } from '../pieces/Stage';
import { Tally } from '../pieces/Tally';
import { exportUrl, useListState } from '../pieces/useListState';
import { Bundles, type By } from './Bundles';
import { ByKind } from './ByKind';
import { CurvePane } from './CurvePane';
import { FindingPane } from './FindingPane';
import { isConflict, stateOf, states, useFindingKinds, type Finding, type Kind, type Sign } from './says';

const help = [
  { keys: 'a', does: 'accept: it is so, and something will be done' },
  { keys: 'd', does: 'dismiss, with a reason' },
  { keys: 'r', does: 'resolved' },
  { keys: 'o', does: 'open again' },
  { keys: 'c', does: 'decide a conflict, its pages side by side' },
  { keys: 'Space', does: 'pick a row, for changes to several' },
];

const none: ReadonlySet<string> = new Set();

/** Which findings are asked for. */
export interface FindingQuery {
  Search?: string;
  Kind?: Kind;
  Sign?: Sign;
  State?: Finding['state'];
  AnyState?: boolean;
  PageId?: number;
  TopicId?: number;
  Assignee?: string;
  IsSmall?: boolean;
}

/** What is to be decided: by kind to begin with, then kind by kind, most at stake first. */
export function FindingsScreen() {
  const list = useListState();
  const navigate = useNavigate();
  const project = useProject().data;
  const host = project?.project.host;
  const [tally, setTally] = useState<Schema['ListTally']>();
  const [dismissing, setDismissing] = useState(false);
  const [picked, setPicked] = useState<ReadonlySet<string>>(none);
  useKeyHelp(help);
  const state = list.text('state');
  const by = list.text('by') as By | undefined;
  const query = {
    ...list.listing,
    Kind: list.text('kind') as Kind | undefined,
    Sign: list.text('sign') as Sign | undefined,
    State: state === 'any' ? undefined : (state as Finding['state'] | undefined),
    AnyState: state === 'any' ? true : undefined,
    PageId: list.numeric('page'),
    TopicId: list.numeric('topic'),
    Assignee: list.text('assignee') === '-' ? '' : list.text('assignee'),
    IsSmall: list.text('small') === undefined ? undefined : list.text('small') === 'only',
  };
  const isByKind = by === undefined && query.Kind === undefined && list.text('all') === undefined;
  const filter = {
    kind: query.Kind ?? null,
    state: query.State ?? null,
    anyState: query.AnyState ?? false,
    clusterId: null,
    pageId: query.PageId ?? null,
    sign: query.Sign ?? null,
    topicId: query.TopicId ?? null,
    assignee: query.Assignee ?? null,
    isSmall: query.IsSmall ?? null,
  };
  const isNarrowed = [query.Search, query.Kind, query.Sign, state, query.PageId, query.TopicId, query.Assignee].some(
    (c) => c !== undefined,
  );
  const selected = list.text('id');
  const decide = useChange(
    ({
      key,
      state: next,
      reason,
      version,
    }: {
      key: string;
      state: Finding['state'];
      reason?: string;
      version?: string | null;
    }) =>
      answer(
        api.PUT('/api/findings/{key}', {
          params: { path: { key } },
          body: { state: next, reason: reason ?? null, version },
        }),
      ),
    (row) => `${row.subject}: ${row.state}.`,
  );
  const selection = (all: boolean) =>
    all ? { keys: null, filter, search: query.Search ?? null } : { keys: [...picked], filter: null, search: null };
  const change = (
    all: boolean,
    what: { state?: Finding['state']; reason?: string; assignee?: string; note?: string },
  ) =>
    answer(
      api.POST('/api/findings/decide', {
        body: {
          selection: selection(all),
          state: what.state ?? null,
          reason: what.reason ?? null,
          assignee: what.assignee ?? null,
          note: what.note ?? null,
        },
      }),
    );
  const changed = (result: Schema['ChangedFindings']) => {
    setPicked(none);
    return `${counted(result.findings, 'finding')} changed. Undo takes it back.`;
  };
  const setState = useChange((next: Finding['state']) => change(false, { state: next }), changed);
  const kinds = useFindingKinds();
  const whole = useQuery({
    queryKey: ['findings', 'tally', query],
    enabled: isByKind,
    queryFn: () => answer(api.GET('/api/findings', { params: { query: { ...query, Limit: 1 } } })),
  });
  const assignees = useQuery({
    queryKey: ['assignees'],
    queryFn: () => answer(api.GET('/api/findings/assignees')),
  });
  const select = (finding: Finding) => {
    setDismissing(false);
    list.set({ id: finding.key });
  };
  const onKey = (key: string, row: Finding | undefined) => {
    if (!row || row.key !== selected) return false;
    if (key === 'a') decide.mutate({ key: row.key, state: 'accepted', version: row.version });
    else if (key === 'r') decide.mutate({ key: row.key, state: 'resolved', version: row.version });
    else if (key === 'o') decide.mutate({ key: row.key, state: 'open', version: row.version });
    else if (key === 'd') setDismissing(true);
    else if (key === 'c' && isConflict(row)) void navigate(`/findings/conflict?key=${encodeURIComponent(row.key)}`);
    else return false;
    return true;
  };
  const empty = isNarrowed ? (
    <NotYet title="No finding fits">Remove a condition above, or search for something else.</NotYet>
  ) : project?.groupedAt ? (
    <NotYet title="Nothing is open">
      No open findings. New results, pages and search performance are checked as they arrive.
    </NotYet>
  ) : (
    <NotYet title="No findings yet">Findings are computed once keywords are grouped on the Clusters stage.</NotYet>
  );
  const isOfCluster = query.Kind === 'uncovered' || query.Kind === 'missingLinks';
  const columns: Column<Finding>[] = [
    {
      key: 'pageUrl',
      title: query.Kind === 'uncovered' ? 'Cluster' : query.Kind === 'missingLinks' ? 'Topic' : 'About',
      width: 'minmax(150px, 2fr)',
      sorts: !isOfCluster,
      render: (r) => (
        <span className={isConflict(r) && !query.Kind ? 'clay' : undefined} title={r.subject}>
          {r.subject}
        </span>
      ),
    },
    ...(query.Kind
      ? []
      : [{ key: 'kind', title: 'Finding', width: '92px', render: (r: Finding) => r.name } satisfies Column<Finding>]),
    {
      key: 'says',
      title: 'What shows it',
      width: 'minmax(130px, 1.6fr)',
      sorts: false,
      render: (r) => <span title={r.says}>{r.says}</span>,
    },
    ...(isOfCluster
      ? [
          {
            key: 'demand',
            title: 'Demand',
            width: '68px',
            numeric: true,
            render: (r: Finding) => number(r.demand),
          } satisfies Column<Finding>,
        ]
      : [
          {
            key: 'clusterName',
            title: 'Cluster',
            width: 'minmax(100px, 1.1fr)',
            render: (r: Finding) =>
              r.clusterName ? <span title={r.clusterName}>{r.clusterName}</span> : <span className="quiet">none</span>,
          } satisfies Column<Finding>,
        ]),
    {
      key: 'assignee',
      title: 'Assignee',
      width: '76px',
      render: (r) => <span title={r.note || r.assignee}>{r.assignee || (r.note ? 'noted' : '')}</span>,
    },
    { key: 'atStake', title: 'At stake', width: '62px', numeric: true, render: (r) => <b>{number(r.atStake)}</b> },
    {
      key: 'state',
      title: 'State',
      width: '76px',
      render: (r) => <span title={stateOf(r)}>{stateOf(r)}</span>,
    },
  ];
  return (
    <Stage
      work={
        <>
          <div className="head">
            <h1>Findings</h1>
            <span className="second cut">one row for one decision, most clicks at stake first</span>
            <span className="gap" />
            <Button href="/api/summary.html" target="_blank">
              Site summary
            </Button>
            <Button href={exportUrl('/api/findings.csv', query)}>Export CSV</Button>
            <Button href={exportUrl('/api/findings.xlsx', query)}>Export XLSX</Button>
          </div>
          <div className="says">
            Showing{' '}
            <Choice
              label="Kind"
              any="findings"
              value={query.Kind}
              options={kinds.kinds}
              onChange={(kind) => list.set({ kind, sign: undefined, small: undefined })}
            />
            with
            <Choice
              label="Sign"
              any="any sign"
              value={query.Sign}
              options={kinds.signsOf(query.Kind)}
              onChange={(sign) => list.set({ sign })}
            />
            that are
            <Choice
              label="State"
              any="open or accepted"
              value={state}
              options={[...states, { value: 'any', says: 'in any state' }]}
              onChange={(value) => list.set({ state: value })}
            />
            <Choice
              label="Assignee"
              any="of anybody"
              value={list.text('assignee')}
              options={[
                { value: '-', says: 'of nobody' },
                ...(assignees.data ?? []).map((name) => ({ value: name, says: `of ${name}` })),
              ]}
              onChange={(assignee) => list.set({ assignee })}
            />
            <span className="comma">,</span>
            <Choice
              label="Gathered"
              any={query.Kind ? 'one by one' : 'by kind'}
              value={by ?? (query.Kind ? undefined : list.text('all'))}
              options={[
                ...(query.Kind ? [] : [{ value: 'all', says: 'one by one' }]),
                { value: 'page', says: 'by page' },
                { value: 'topic', says: 'by topic' },
              ]}
              onChange={(value) =>
                list.set(value === 'all' ? { by: undefined, all: 'all' } : { by: value, all: undefined })
              }
            />
            {query.IsSmall !== undefined && (
              <button className="chip set" onClick={() => list.set({ small: undefined })}>
                under one click a month ✕
              </button>
            )}
            {(query.PageId ?? query.TopicId) !== undefined && (
              <button className="chip set" onClick={() => list.set({ page: undefined, topic: undefined })}>
                of one {query.PageId !== undefined ? 'page' : 'topic'} ✕
              </button>
            )}
          </div>
          {picked.size > 0 && (
            <div className="says picked">
              <b>{counted(picked.size, 'finding')} picked</b>
              <Button size="small" onClick={() => setState.mutate('accepted')}>
                Accept
              </Button>
              <AskText
                label="Why are they left as they are?"
                placeholder="the reason"
                act="Dismiss"
                change={(reason) => change(false, { state: 'dismissed', reason })}
                done={changed}
              >
                <Button size="small">Dismiss</Button>
              </AskText>
              <Button size="small" onClick={() => setState.mutate('resolved')}>
                Resolved
              </Button>
              <Button size="small" onClick={() => setState.mutate('open')}>
                Open again
              </Button>
              <AskText
                label="Who works on them"
                placeholder="a name"
                act="Assign"
                change={(assignee) => change(false, { assignee })}
                done={changed}
              >
                <Button size="small">Assign</Button>
              </AskText>
              <AskText
                label="Note"
                placeholder="anything to keep in mind"
                act="Note"
                change={(note) => change(false, { note })}
                done={changed}
              >
                <Button size="small">Note</Button>
              </AskText>
              <Button size="small" type="text" onClick={() => setPicked(none)}>
                Clear selection
              </Button>
            </div>
          )}
          {by ? (
            <Bundles
              by={by}
              query={query}
              host={host}
              open={(key) =>
                list.set({
                  by: undefined,
                  all: 'all',
                  page: by === 'page' ? key : query.PageId,
                  topic: by === 'topic' ? key : query.TopicId,
                })
              }
            />
          ) : isByKind ? (
            <ByKind
              query={query}
              selected={selected}
              onSelect={select}
              onKey={onKey}
              showAll={(kind, small) => list.set({ kind, small: small ? 'only' : undefined, id: undefined })}
              empty={empty}
            />
          ) : (
            <DataTable
              name="findings"
              query={query}
              read={(Offset, Limit) =>
                answer(api.GET('/api/findings', { params: { query: { ...query, Offset, Limit } } }))
              }
              columns={columns}
              list={list}
              idOf={(r) => r.key}
              selected={selected}
              onSelect={select}
              onKey={onKey}
              onTally={setTally}
              picks={{ ids: picked, set: setPicked }}
              empty={empty}
            />
          )}
        </>
      }
      pane={
        selected && !by ? (
          <FindingPane
            key={selected}
            findingKey={selected}
            host={host}
            dismissing={dismissing}
            setDismissing={setDismissing}
            decide={(next, reason, version) => decide.mutate({ key: selected, state: next, reason, version })}
          />
        ) : (
          <>
            <h2>Select a finding</h2>
            <p>Its evidence, what is at stake and possible remedies appear here.</p>
            <hr />
            <CurvePane />
          </>
        )
      }
      tally={
        by ? (
          <span className="quiet">choose a line to see its findings</span>
        ) : (
          <Tally tally={isByKind ? whole.data?.tally : tally} noun="finding" demand={false} atStake="at stake">
            for prioritising, not a forecast
          </Tally>
        )
      }
    />
  );
}
