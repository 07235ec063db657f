import { useQuery } from '@tanstack/react-query';
import { Button } from 'antd';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { fileUrl } from '../api/base';
import { answer, api, type Schema } from '../api/client';
import { findingEvidence } from '../api/evidence';
import { useProject } from '../api/hooks';
import { keyOf } from '../api/keys';
import { useKeyHelp } from '../app/keys';
import { AboutList } from '../pieces/AboutList';
import { DataTable } from '../pieces/DataTable';
import { GoButton } from '../pieces/GoButton';
import { ListScreen } from '../pieces/ListScreen';
import { NotYet } from '../pieces/States';
import { Tally } from '../pieces/Tally';
import { exportUrl, useListState } from '../pieces/useListState';
import { usePicks } from '../pieces/usePicks';
import { Bundles, type By } from './Bundles';
import { ByKind } from './ByKind';
import { CurvePane } from './CurvePane';
import { findingColumns } from './findingColumns';
import { FindingPane } from './FindingPane';
import { FindingsSentence } from './FindingsSentence';
import { PickedFindings } from './PickedFindings';
import { isConflict, type Finding } from './says';
import { findingNames, findingsQuery, useDecision, type FindingQuery } from './useFindings';
import ui from '../pieces/ui.module.css';

const help = [
  { keys: 'a', does: 'accept: it is so, and something will be done' },
  { keys: 'd', does: 'dismiss, with a reason' },
  { keys: 'r', does: 'resolved' },
  { keys: 'o', does: 'open again' },
  { keys: 'c', does: 'decide a conflict, its pages side by side' },
  { keys: 'Space', does: 'pick a row, for changes to several' },
];

const stateByKey: Record<string, Finding['state']> = { a: 'accepted', r: 'resolved', o: 'open' };

/** What is to be decided: by kind to begin with, then kind by kind, most at stake first. */
export function FindingsScreen() {
  const list = useListState();
  const navigate = useNavigate();
  const host = useProject().data?.project.host;
  const [tally, setTally] = useState<Schema['ListTally']>();
  const [dismissing, setDismissing] = useState(false);
  const picks = usePicks(list, String);
  const decide = useDecision();
  useKeyHelp(help);
  const query = findingsQuery(list);
  const by = list.text('by') as By | undefined;
  const isByKind = by === undefined && query.Kind === undefined && list.text('all') === undefined;
  const selected = list.text('id');
  const whole = useQuery({
    queryKey: keyOf('findings', 'tally', query),
    enabled: isByKind,
    queryFn: () => answer(api.GET('/api/findings', { params: { query: { ...query, Limit: 1 } } })),
  });
  const select = (finding: Finding) => {
    setDismissing(false);
    list.set({ id: finding.key });
  };
  const onKey = (key: string, row: Finding | undefined) => {
    if (!row || row.key !== selected) return false;
    const state = stateByKey[key];
    if (state) decide.mutate({ key: row.key, state, version: row.version });
    else if (key === 'd') setDismissing(true);
    else if (key === 'c' && isConflict(row)) void navigate(`/findings/conflict?key=${encodeURIComponent(row.key)}`);
    else return false;
    return true;
  };
  const empty = <NoFindings query={query} state={list.text('state')} />;
  return (
    <ListScreen
      title="Findings"
      about="one row for one decision, most clicks at stake first"
      actions={
        <>
          <Button href={fileUrl('/api/summary.html')} target="_blank">
            Site summary
          </Button>
          <Button href={exportUrl('/api/findings.csv', query)}>Export CSV</Button>
          <Button href={exportUrl('/api/findings.xlsx', query)}>Export XLSX</Button>
        </>
      }
      sentence={<FindingsSentence list={list} query={query} />}
      picked={picks.ids.size > 0 && <PickedFindings ids={picks.ids} clear={picks.clear} />}
      pickedIds={picks.ids}
      pane={
        selected && !by ? (
          <FindingPane
            key={selected}
            findingKey={selected}
            host={host}
            dismissing={dismissing}
            setDismissing={setDismissing}
            decide={(state, version) => decide.mutate({ key: selected, state, version: version ?? null })}
          />
        ) : (
          <AboutList of="findings" list={list} names={findingNames}>
            <CurvePane />
          </AboutList>
        )
      }
      tally={
        by ? (
          <span className={ui.quiet}>choose a line to see its findings</span>
        ) : (
          <Tally tally={isByKind ? whole.data?.tally : tally} noun="finding" demand={false} atStake="at stake">
            for prioritising, not a forecast
          </Tally>
        )
      }
    >
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
          read={(range) => answer(api.GET('/api/findings', { params: { query: { ...query, ...range } } }))}
          columns={findingColumns(query.Kind)}
          list={list}
          idOf={(r) => r.key}
          selected={selected}
          onSelect={select}
          onKey={onKey}
          onTally={setTally}
          picks={picks}
          evidenceOf={(r) => findingEvidence(r.key)}
          empty={empty}
        />
      )}
    </ListScreen>
  );
}

/** Why no finding is shown, and what to do next. */
function NoFindings({ query, state }: { query: FindingQuery; state: string | undefined }) {
  const isGrouped = useProject().data?.groupedAt;
  const isNarrowed = [query.Search, query.Kind, query.Sign, state, query.PageId, query.TopicId, query.Assignee].some(
    (c) => c !== undefined,
  );
  if (isNarrowed)
    return <NotYet title="No finding fits">Remove a condition above, or search for something else.</NotYet>;
  if (isGrouped)
    return (
      <NotYet title="Nothing is open">
        No open findings. New results, pages and search performance are checked as they arrive.
      </NotYet>
    );
  return (
    <NotYet title="No findings yet">
      <p>Findings are computed once keywords are grouped.</p>
      <GoButton to="/clusters?pane=regroup">Group keywords</GoButton>
    </NotYet>
  );
}
