import { useEffect } from 'react';
import { useLocation } from 'react-router';
import { base } from '../api/base';
import { stageTitle } from './stages';

/** A place that was looked at: a selected cluster, page, keyword, … */
export interface Place {
  address: string;
  name: string;
  stage: string;
}

/** Each project has its own places. */
const stored = `jade-orchard.recent${base}`;
const most = 12;
/** What is passed by with the arrow keys is no place that was looked at. */
const looked = 1200;

export function recentPlaces(): Place[] {
  try {
    return JSON.parse(localStorage.getItem(stored) ?? '[]') as Place[];
  } catch {
    return [];
  }
}

/** Names what is shown, in the title of the window and among the recent places. */
export function usePlaceName(name: string | undefined) {
  const { pathname, search } = useLocation();
  useEffect(() => {
    const stage = stageTitle(pathname);
    document.title = name ? `${name} · ${stage}` : `${stage} · Jade Orchard`;
    if (!name) return;
    const timer = setTimeout(() => {
      const others = recentPlaces().filter((place) => place.name !== name || place.stage !== stage);
      const place = { address: pathname + search, name, stage };
      localStorage.setItem(stored, JSON.stringify([place, ...others].slice(0, most)));
    }, looked);
    return () => clearTimeout(timer);
  }, [name, pathname, search]);
}
