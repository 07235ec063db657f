import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { Modal } from 'antd';
import { useDeferredValue, useId, useState } from 'react';
import { useNavigate } from 'react-router';
import { answer, api, listApi } from '../api/client';
import { keyOf } from '../api/keys';
import { useProject } from '../api/hooks';
import { shortUrl } from '../pieces/format';
import { prefer } from './preferences';
import { recentPlaces } from './recent';
import { stages } from './stages';
import styles from './shell.module.css';
import ui from '../pieces/ui.module.css';

/** Something that the palette offers. */
interface Offer {
  kind: string;
  name: string;
  detail?: string;
  address?: string;
  act?: () => void;
}

const fewest = 2;

/** What can be done from anywhere, by the pane that does it. */
const actions: Offer[] = [
  { kind: 'Action', name: 'Scan the site', address: '/site?pane=scan' },
  { kind: 'Action', name: 'Import pages', address: '/site?pane=import' },
  { kind: 'Action', name: 'Site and market', address: '/site?pane=settings' },
  { kind: 'Action', name: 'Services', address: '/site?pane=services' },
  { kind: 'Action', name: 'Search performance', address: '/site?pane=performance' },
  { kind: 'Action', name: 'Bring keywords', address: '/keywords?pane=bring' },
  { kind: 'Action', name: 'Import keywords', address: '/keywords?pane=import' },
  { kind: 'Action', name: 'Keyword lists', address: '/keywords?pane=lists' },
  { kind: 'Action', name: 'Capture results', address: '/results?pane=capture' },
  { kind: 'Action', name: 'Import result lists', address: '/results?pane=import' },
  { kind: 'Action', name: 'Group keywords', address: '/clusters?pane=regroup' },
  { kind: 'Action', name: 'Topics', address: '/clusters?view=topics' },
  { kind: 'Action', name: 'Clusters to map', address: '/page-map?decided=no' },
  { kind: 'Action', name: 'Open conflicts', address: '/findings?kind=conflict' },
  { kind: 'Action', name: 'Add a step', address: '/plan?pane=add' },
  { kind: 'Action', name: 'People and hours', address: '/plan?pane=people' },
  { kind: 'Action', name: 'Roadmap', address: '/plan?view=roadmap' },
  { kind: 'Action', name: 'Did it help?', address: '/refresh?view=changes' },
  { kind: 'Action', name: 'Positions', address: '/refresh?view=ranks' },
  { kind: 'Action', name: 'Light colours', act: () => prefer({ theme: 'light' }) },
  { kind: 'Action', name: 'Dark colours', act: () => prefer({ theme: 'dark' }) },
  { kind: 'Action', name: 'Dense rows', act: () => prefer({ density: 'dense' }) },
  { kind: 'Action', name: 'Regular rows', act: () => prefer({ density: 'regular' }) },
  { kind: 'Action', name: 'Roomy rows', act: () => prefer({ density: 'roomy' }) },
];

const addressOf = {
  page: (id: string) => `/site?id=${id}`,
  cluster: (id: string) => `/clusters?id=${id}`,
  topic: (id: string) => `/clusters?view=topics&topic=${id}`,
  keyword: (id: string) => `/keywords?id=${id}`,
};
const kindNames = { page: 'Page', cluster: 'Cluster', topic: 'Topic', keyword: 'Keyword' };

/** True where every typed word begins a word of the name. */
export const fits = (name: string, typed: string) => {
  const words = name.toLowerCase().split(/[\s/·-]+/);
  return typed
    .toLowerCase()
    .split(/\s+/)
    .every((part) => words.some((word) => word.startsWith(part)));
};

/** Goes to any stage, page, cluster, topic or keyword, or does something, by a few letters. */
export function Palette({ own, close }: { own: Offer[]; close: () => void }) {
  const id = useId();
  const navigate = useNavigate();
  const host = useProject().data?.project.host;
  const [text, setText] = useState('');
  const [at, setAt] = useState(0);
  const typed = text.trim();
  const asked = useDeferredValue(typed);
  const found = useQuery({
    queryKey: keyOf('places', asked),
    enabled: asked.length >= fewest,
    placeholderData: keepPreviousData,
    queryFn: () => answer(api.GET('/api/places', { params: { query: { search: asked } } })),
  }).data;
  const guide = useQuery({
    queryKey: keyOf('guide'),
    staleTime: Infinity,
    queryFn: () => answer(listApi.GET('/api/guide')),
  }).data;
  const stageOffers: Offer[] = [
    { kind: 'Stage', name: 'Overview', address: '/' },
    ...stages.map((s) => ({ kind: 'Stage', name: s.title, address: `/${s.path}` })),
  ];
  const recent: Offer[] = recentPlaces().map((p) => ({
    kind: 'Recent',
    name: p.name,
    detail: p.stage,
    address: p.address,
  }));
  const offers: Offer[] =
    typed === ''
      ? [...recent, ...stageOffers, ...own, ...actions]
      : [
          ...[...stageOffers, ...own, ...actions].filter((offer) => fits(offer.name, typed)),
          ...(typed.length >= fewest ? (found ?? []) : []).map((place) => ({
            kind: kindNames[place.kind],
            name: place.kind === 'page' ? shortUrl(place.name, host) : place.name,
            detail: place.kind === 'cluster' ? shortUrl(place.detail, host) : place.detail,
            address: addressOf[place.kind](place.id),
          })),
          ...(guide ?? [])
            .map((section) => ({
              kind: 'Guide',
              name: section.heading || section.page,
              detail: section.heading && section.page,
              act: () => void window.open(section.address, '_blank'),
            }))
            .filter((offer) => fits(offer.name, typed)),
        ];
  const chosen = Math.min(at, offers.length - 1);
  const go = (offer: Offer | undefined) => {
    if (!offer) return;
    close();
    if (offer.act) offer.act();
    else if (offer.address) void navigate(offer.address);
  };
  return (
    <Modal open footer={null} closable={false} onCancel={close} width={620} title={null}>
      <input
        className={styles.paletteInput}
        role="combobox"
        aria-label="Go to or do"
        aria-expanded
        aria-controls={`${id}-list`}
        aria-activedescendant={offers[chosen] && `${id}-${chosen}`}
        placeholder="Go to a stage, page, cluster, topic or keyword, or do something"
        autoFocus
        value={text}
        onChange={(event) => {
          setText(event.target.value);
          setAt(0);
        }}
        onKeyDown={(event) => {
          const step = { ArrowDown: 1, ArrowUp: -1, PageDown: 8, PageUp: -8 }[event.key];
          if (step !== undefined) {
            event.preventDefault();
            const next = Math.max(0, Math.min(offers.length - 1, chosen + step));
            setAt(next);
            document.getElementById(`${id}-${next}`)?.scrollIntoView({ block: 'nearest' });
          } else if (event.key === 'Enter') {
            event.preventDefault();
            go(offers[chosen]);
          }
        }}
      />
      <ul id={`${id}-list`} role="listbox" aria-label="Places and actions" className={styles.paletteList} tabIndex={-1}>
        {offers.map((offer, i) => (
          <li
            key={`${offer.kind} ${offer.name} ${offer.address ?? ''}`}
            id={`${id}-${i}`}
            role="option"
            aria-selected={i === chosen}
            className={i === chosen ? styles.sel : undefined}
            onClick={() => go(offer)}
          >
            <span className={ui.second}>{offer.kind}</span>
            <span className={ui.cut}>{offer.name}</span>
            <span className={`${ui.second} ${ui.cut}`}>{offer.detail}</span>
          </li>
        ))}
      </ul>
      {offers.length === 0 && <p className={ui.second}>Nothing is called that. Type other letters.</p>}
    </Modal>
  );
}
