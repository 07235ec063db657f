import { Button } from 'antd';
import { useState } from 'react';
import { answer, api, type Schema } from '../api/client';
import { pageEvidence } from '../api/evidence';
import { useProject } from '../api/hooks';
import { useKeyHelp } from '../app/keys';
import { DataTable } from '../pieces/DataTable';
import { number } from '../pieces/format';
import { ListScreen } from '../pieces/ListScreen';
import { NotYet } from '../pieces/States';
import { Tally } from '../pieces/Tally';
import { exportUrl, isFiltered, useListState } from '../pieces/useListState';
import { usePane } from '../pieces/usePane';
import { pageColumns } from './pageColumns';
import { PagesSentence } from './PagesSentence';
import { SitePane, sitePanes } from './SitePane';
import { pagesQuery } from './usePages';
import ui from '../pieces/ui.module.css';

const help = [
  { keys: 's', does: 'scan the site' },
  { keys: 'i', does: 'import pages' },
];

/** The pages of the site, existing and planned. */
export function SiteScreen() {
  const list = useListState();
  const host = useProject().data?.project.host;
  const [tally, setTally] = useState<Schema['ListTally']>();
  const { shown, open } = usePane(list, sitePanes);
  useKeyHelp(help);
  const query = pagesQuery(list);
  return (
    <ListScreen
      title="Site"
      about={host || 'which site is this about?'}
      actions={
        <>
          <Button href={exportUrl('/api/pages.csv', query)}>Export CSV</Button>
          <Button onClick={() => open('services')}>Services</Button>
          <Button onClick={() => open('settings')}>Site and market</Button>
          <Button onClick={() => open('performance')} disabled={!host}>
            Performance
          </Button>
          <Button onClick={() => open('import')} disabled={!host}>
            Import pages
          </Button>
          <Button type="primary" onClick={() => open('scan')} disabled={!host}>
            Scan
          </Button>
        </>
      }
      sentence={<PagesSentence list={list} />}
      pane={<SitePane shown={shown} open={open} host={host} list={list} />}
      tally={
        <Tally tally={tally} noun="page" demand={false}>
          {tally && (
            <span>
              clicks <b>{number(tally.atStake)}</b> a month, estimated from results
            </span>
          )}
        </Tally>
      }
    >
      <DataTable
        name="pages"
        query={query}
        read={(range) => answer(api.GET('/api/pages', { params: { query: { ...query, ...range } } }))}
        columns={pageColumns(host)}
        list={list}
        idOf={(r) => r.id}
        selected={list.text('id')}
        onSelect={(r) => list.set({ id: r.id, pane: undefined })}
        onKey={(key) => {
          if (key === 'i' || key === 's') open(key === 'i' ? 'import' : 'scan');
          return key === 'i' || key === 's';
        }}
        onTally={setTally}
        evidenceOf={(r) => pageEvidence(r.id)}
        empty={<NoPages isNarrowed={isFiltered(query)} host={host} open={open} />}
      />
    </ListScreen>
  );
}

function NoPages({
  isNarrowed,
  host,
  open,
}: {
  isNarrowed: boolean;
  host: string | undefined;
  open: (pane: (typeof sitePanes)[number]) => void;
}) {
  if (isNarrowed) return <NotYet title="No page fits">Remove a condition above, or search for something else.</NotYet>;
  if (!host)
    return (
      <NotYet title="Which site is this about?">
        <p>Enter your site and market on the right, so that your own pages are recognised.</p>
      </NotYet>
    );
  return (
    <NotYet title="No pages yet">
      <p>Scan {host}: its sitemap is read, or its links where there is none. Or import a page list of your own.</p>
      <div className={ui.acts}>
        <Button type="primary" onClick={() => open('scan')}>
          Scan the site
        </Button>
        <Button onClick={() => open('import')}>Import a page list</Button>
        <Button onClick={() => open('paste')}>Paste addresses</Button>
      </div>
    </NotYet>
  );
}
