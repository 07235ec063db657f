import type { Schema } from '../api/client';
import { decimal } from '../pieces/format';
import type { Step } from './says';

/** A person or a topic, with as many rows as its bars need not to cover each other. */
export interface Lane {
  name: string;
  says: string;
  /** The owner that a step dropped here gets. */
  owner: string;
  rows: Step[][];
}

/** Puts bars into rows: each into the first one that is free in its weeks. */
export function lanesOf(roadmap: Schema['RoadmapView'], by: 'person' | 'topic'): Lane[] {
  const groups = new Map<string, Step[]>();
  if (by === 'person') for (const person of roadmap.load) groups.set(person.name, []);
  for (const step of roadmap.bars) {
    const name = by === 'person' ? (step.worker ?? '') : (step.topicName ?? 'no topic');
    const steps = groups.get(name);
    if (steps) steps.push(step);
    else groups.set(name, [step]);
  }
  return [...groups].map(([name, steps]) => {
    const rows: Step[][] = [];
    const ends: string[] = [];
    for (const step of [...steps].sort((a, b) => a.first!.localeCompare(b.first!))) {
      let row = ends.findIndex((end) => end < step.first!);
      if (row < 0) row = rows.push([]) - 1;
      rows[row]!.push(step);
      ends[row] = step.last!;
    }
    const load = roadmap.load.find((p) => p.name === name);
    return {
      name,
      owner: by === 'person' && name !== 'team' ? name : '',
      says:
        by === 'person' && load
          ? `${decimal(Math.max(...load.free), 1)} h a week`
          : `${decimal(
              steps.reduce((sum, s) => sum + s.hours, 0),
              1,
            )} h`,
      rows: rows.length === 0 ? [[]] : rows,
    };
  });
}
