import { useQuery } from '@tanstack/react-query';
import { Button } from 'antd';
import { useState } from 'react';
import { answer, api, type Schema } from '../api/client';
import { useProject } from '../api/hooks';
import { useKeyHelp } from '../app/keys';
import { ImportPane } from '../imports/ImportPane';
import { DataTable, type Column } from '../pieces/DataTable';
import { Choice } from '../pieces/FilterSentence';
import { number, shortUrl } from '../pieces/format';
import { Failed, NotYet, Reading } from '../pieces/States';
import { Stage } from '../pieces/Stage';
import { Tally } from '../pieces/Tally';
import { exportUrl, useListState } from '../pieces/useListState';
import { PagePane } from './PagePane';
import { ProjectForm } from './ProjectForm';

type Row = Schema['PageRow'];

const help = [{ keys: 'i', does: 'import pages' }];

/** The pages of the site, existing and planned. */
export function SiteScreen() {
  const list = useListState();
  const project = useProject();
  const host = project.data?.project.host;
  const [tally, setTally] = useState<Schema['ListTally']>();
  const [pane, setPane] = useState<'import' | 'settings'>();
  useKeyHelp(help);
  const query = {
    ...list.listing,
    Kind: list.text('kind') as Row['kind'] | undefined,
    HasCluster: flag(list.text('cluster')),
    IsSeen: flag(list.text('seen')),
  };
  const columns: Column<Row>[] = [
    {
      key: 'url',
      title: 'Page',
      width: 'minmax(170px, 2fr)',
      render: (r) => <span title={r.url}>{shortUrl(r.url, host)}</span>,
    },
    {
      key: 'title',
      title: 'Title',
      width: 'minmax(140px, 2fr)',
      render: (r) => <span title={r.title ?? ''}>{r.title ?? <span className="quiet">not known</span>}</span>,
    },
    { key: 'kind', title: 'State', width: '66px', render: (r) => r.kind },
    { key: 'words', title: 'Words', width: '56px', numeric: true, render: (r) => number(r.words) },
    {
      key: 'clusterName',
      title: 'Cluster',
      width: 'minmax(110px, 1.3fr)',
      render: (r) =>
        r.clusterName ? (
          `${r.clusterName}${r.clusters > 1 ? ` +${r.clusters - 1}` : ''}`
        ) : (
          <span className="quiet">none</span>
        ),
    },
    { key: 'seenFor', title: 'Seen for', width: '64px', numeric: true, render: (r) => number(r.seenFor) },
    { key: 'clicks', title: 'Clicks, est.', width: '78px', numeric: true, render: (r) => number(r.clicks) },
  ];
  const selected = list.text('id');
  const read = (Offset: number, Limit: number) =>
    answer(api.GET('/api/pages', { params: { query: { ...query, Offset, Limit } } }));
  return (
    <Stage
      work={
        <>
          <div className="head">
            <h1>Site</h1>
            <span className="second cut">{host || 'which site is this about?'}</span>
            <span className="gap" />
            <Button href={exportUrl('/api/pages.csv', query)}>Export CSV</Button>
            <Button onClick={() => setPane('settings')}>Site and market</Button>
            <Button type="primary" onClick={() => setPane('import')} disabled={!host}>
              Import pages
            </Button>
          </div>
          <div className="says">
            Showing{' '}
            <Choice
              label="State"
              any="all pages"
              value={query.Kind}
              options={[
                { value: 'existing', says: 'existing pages' },
                { value: 'planned', says: 'planned pages' },
              ]}
              onChange={(kind) => list.set({ kind })}
            />
            <Choice
              label="Cluster"
              any="with or without a cluster"
              value={list.text('cluster')}
              options={[
                { value: 'yes', says: 'with a cluster' },
                { value: 'no', says: 'without a cluster' },
              ]}
              onChange={(cluster) => list.set({ cluster })}
            />
            and
            <Choice
              label="Results"
              any="seen or not"
              value={list.text('seen')}
              options={[
                { value: 'yes', says: 'seen in results' },
                { value: 'no', says: 'not seen in results' },
              ]}
              onChange={(seen) => list.set({ seen })}
            />
          </div>
          <DataTable
            name="pages"
            query={query}
            read={read}
            columns={columns}
            list={list}
            idOf={(r) => r.id}
            selected={selected}
            onSelect={(r) => {
              setPane(undefined);
              list.set({ id: r.id });
            }}
            onKey={(key) => key === 'i' && (setPane('import'), true)}
            onTally={setTally}
            empty={
              isFiltered(query) ? (
                <NotYet title="No page fits">
                  Take a condition out of the sentence above, or search for something else.
                </NotYet>
              ) : host ? (
                <NotYet title="No pages yet">
                  <p>Import a list of the site's pages: their addresses, and titles and headings if you have them.</p>
                  <Button type="primary" onClick={() => setPane('import')}>
                    Import pages
                  </Button>
                </NotYet>
              ) : (
                <NotYet title="Which site is this about?">
                  <p>Say at the right which site and market you plan for. Then its pages can be told from others.</p>
                </NotYet>
              )
            }
          />
        </>
      }
      pane={
        pane === 'import' ? (
          <ImportPane kind="pages" close={() => setPane(undefined)} />
        ) : pane === 'settings' || !host ? (
          <ProjectForm close={() => setPane(undefined)} />
        ) : selected ? (
          <SelectedPage id={Number(selected)} host={host} />
        ) : (
          <>
            <h2>Select a page</h2>
            <p>Its clusters, the searches it stands for and what was found about it are shown here.</p>
          </>
        )
      }
      tally={
        <Tally tally={tally} noun="page" demand={false}>
          {tally && (
            <span>
              clicks <b>{number(tally.atStake)}</b> a month, estimated from results
            </span>
          )}
        </Tally>
      }
    />
  );
}

function SelectedPage({ id, host }: { id: number; host: string }) {
  const page = useQuery({
    queryKey: ['page', id],
    queryFn: () => answer(api.GET('/api/pages/{id}', { params: { path: { id } } })),
  });
  if (page.isError) return <Failed error={page.error} retry={() => void page.refetch()} />;
  return page.data ? <PagePane detail={page.data} host={host} /> : <Reading />;
}

const flag = (text: string | undefined) => (text === undefined ? undefined : text === 'yes');

/** True where a condition or a search takes part. */
export const isFiltered = (query: object) =>
  Object.entries(query).some(
    ([name, value]) => value !== undefined && !['Sort', 'Descending', 'AnyState'].includes(name),
  );
