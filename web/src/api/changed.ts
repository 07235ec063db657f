import type { Area } from './keys';

/** What changes touched since it was last taken; undefined where everything may have changed. */
let areas: Set<Area> | undefined;
let isKnown = false;
let step: string | undefined;

/** Notes what an answer says it changed. An answer to a change that does not say so may have changed everything. */
export function note(response: Response, method: string) {
  if (method === 'GET' || method === 'HEAD') return;
  const changed = response.headers.get('Jade-Changed');
  if (changed !== null) {
    areas ??= isKnown ? undefined : new Set();
    for (const area of changed.split(',')) if (area) areas?.add(area as Area);
  } else if (response.ok) areas = undefined;
  isKnown = true;
  const label = response.headers.get('Jade-Step');
  if (label !== null) step = decodeURIComponent(label);
}

/** What changed since the last time, and the undo step that was made. */
export function take() {
  const taken = { areas, step };
  areas = undefined;
  isKnown = false;
  step = undefined;
  return taken;
}
