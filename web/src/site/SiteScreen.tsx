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
import { PageConditions } from './PageConditions';
import { PagePane } from './PagePane';
import { PastePages } from './PastePages';
import { PerformancePane } from './PerformancePane';
import { ProjectForm } from './ProjectForm';
import { ScanPane } from './ScanPane';
import { ServicesPane } from './ServicesPane';

type Row = Schema['PageRow'];

const help = [
  { keys: 's', does: 'scan the site' },
  { keys: 'i', does: 'import pages' },
];

type Pane = 'scan' | 'import' | 'paste' | 'settings' | 'services' | 'performance' | 'bring performance' | undefined;

const linked: Pane[] = ['services', 'scan', 'performance'];

/** The pages of the site, existing and planned. */
export function SiteScreen() {
  const list = useListState();
  const project = useProject();
  const host = project.data?.project.host;
  const [tally, setTally] = useState<Schema['ListTally']>();
  const given = list.text('pane');
  const [pane, setPane] = useState<Pane>(linked.find((p) => p === given));
  useKeyHelp(help);
  const query = {
    ...list.listing,
    Kind: list.text('kind') as Row['kind'] | undefined,
    HasCluster: flag(list.text('cluster')),
    IsSeen: flag(list.text('seen')),
    Path: list.text('path'),
    Status: list.numeric('status'),
    Indexable: flag(list.text('indexable')),
    MinWords: list.numeric('minWords'),
    MaxWords: list.numeric('maxWords'),
    MinAge: list.numeric('minAge'),
    MaxAge: list.numeric('maxAge'),
    MinLinksIn: list.numeric('minLinksIn'),
    MaxLinksIn: list.numeric('maxLinksIn'),
    IsGone: flag(list.text('gone')),
  };
  const columns: Column<Row>[] = [
    {
      key: 'url',
      title: 'Page',
      width: 'minmax(150px, 2fr)',
      render: (r) => <span title={r.url}>{shortUrl(r.url, host)}</span>,
    },
    {
      key: 'title',
      title: 'Title',
      width: 'minmax(110px, 1.8fr)',
      render: (r) => <span title={r.title ?? ''}>{r.title ?? <span className="quiet">not known</span>}</span>,
    },
    {
      key: 'indexable',
      title: 'State',
      width: '92px',
      render: (r) =>
        r.kind === 'planned' ? (
          'planned'
        ) : r.goneSince ? (
          <span className="clay">gone</span>
        ) : r.indexable && r.indexable !== 'yes' ? (
          <span title={r.redirectsTo ?? r.canonical ?? ''}>{r.indexable}</span>
        ) : (
          'existing'
        ),
    },
    { key: 'words', title: 'Words', width: '52px', numeric: true, render: (r) => number(r.words) },
    { key: 'linksIn', title: 'Links in', width: '58px', numeric: true, render: (r) => number(r.linksIn) },
    {
      key: 'clusterName',
      title: 'Cluster',
      width: 'minmax(90px, 1.2fr)',
      render: (r) =>
        r.clusterName ? (
          `${r.clusterName}${r.clusters > 1 ? ` +${r.clusters - 1}` : ''}`
        ) : (
          <span className="quiet">none</span>
        ),
    },
    { key: 'seenFor', title: 'Seen for', width: '60px', numeric: true, render: (r) => number(r.seenFor) },
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
            <Button onClick={() => setPane('services')}>Services</Button>
            <Button onClick={() => setPane('settings')}>Site and market</Button>
            <Button onClick={() => setPane('performance')} disabled={!host}>
              Performance
            </Button>
            <Button onClick={() => setPane('import')} disabled={!host}>
              Import pages
            </Button>
            <Button type="primary" onClick={() => setPane('scan')} disabled={!host}>
              Scan
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
            <span className="comma">,</span>
            <PageConditions list={list} />
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
            onKey={(key) => {
              if (key === 'i' || key === 's') setPane(key === 'i' ? 'import' : 'scan');
              return key === 'i' || key === 's';
            }}
            onTally={setTally}
            empty={
              isFiltered(query) ? (
                <NotYet title="No page fits">Remove a condition above, or search for something else.</NotYet>
              ) : host ? (
                <NotYet title="No pages yet">
                  <p>
                    Scan {host}: its sitemap is read, or its links where there is none. Or bring a page list of your
                    own.
                  </p>
                  <div className="acts">
                    <Button type="primary" onClick={() => setPane('scan')}>
                      Scan the site
                    </Button>
                    <Button onClick={() => setPane('import')}>Import a page list</Button>
                    <Button onClick={() => setPane('paste')}>Paste addresses</Button>
                  </div>
                </NotYet>
              ) : (
                <NotYet title="Which site is this about?">
                  <p>Enter your site and market on the right, so that your own pages are recognised.</p>
                </NotYet>
              )
            }
          />
        </>
      }
      pane={
        pane === 'import' ? (
          <>
            <ImportPane kind="pages" close={() => setPane(undefined)} />
            <button className="chip" onClick={() => setPane('paste')}>
              or paste addresses, one a line
            </button>
          </>
        ) : pane === 'performance' ? (
          <PerformancePane bring={() => setPane('bring performance')} close={() => setPane(undefined)} />
        ) : pane === 'bring performance' ? (
          <ImportPane kind="performance" close={() => setPane('performance')} />
        ) : pane === 'paste' ? (
          <PastePages close={() => setPane(undefined)} />
        ) : pane === 'services' ? (
          <ServicesPane close={() => setPane(undefined)} />
        ) : pane === 'scan' && host ? (
          <ScanPane close={() => setPane(undefined)} />
        ) : pane === 'settings' || !host ? (
          <ProjectForm close={() => setPane(undefined)} />
        ) : selected ? (
          <SelectedPage id={Number(selected)} host={host} />
        ) : (
          <>
            <h2>Select a page</h2>
            <p>Its clusters, rankings and findings appear here.</p>
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
