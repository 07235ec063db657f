import type { Schema } from '../api/client';
import { decimal } from '../pieces/format';
import type { Bar } from './says';

/** A person or a topic, with as many rows as its bars need not to cover each other. */
export interface Lane {
  name: string;
  says: string;
  /** The owner that a step dropped here gets. */
  owner: string;
  rows: Block[][];
}

/** A bar: one step, or several small ones of a kind in the same week. */
export interface Block {
  steps: Bar[];
  first: string;
  last: string;
}

/** The longest hours of a step that can share a bar. */
const small = 1;

/** Small steps of a kind and a status that are done in the same week are one bar. */
export function blocksOf(steps: readonly Bar[]): Block[] {
  const blocks = new Map<string, Block>();
  for (const step of steps) {
    const isSmall = step.hours <= small && !step.due && !step.isLate;
    const key = isSmall ? `${step.what} ${step.status} ${step.first}` : String(step.id);
    const block = blocks.get(key);
    if (block) block.steps.push(step);
    else blocks.set(key, { steps: [step], first: step.first!, last: step.last! });
  }
  return [...blocks.values()];
}

/** Puts bars into rows: each into the first one that is free in its weeks. */
export function lanesOf(roadmap: Schema['RoadmapView'], by: 'person' | 'topic'): Lane[] {
  const groups = new Map<string, Bar[]>();
  if (by === 'person') for (const person of roadmap.load) groups.set(person.name, []);
  for (const step of roadmap.bars) {
    const name = by === 'person' ? (step.worker ?? '') : (step.topicName ?? 'no topic');
    const steps = groups.get(name);
    if (steps) steps.push(step);
    else groups.set(name, [step]);
  }
  return [...groups].map(([name, steps]) => {
    const rows: Block[][] = [];
    const ends: string[] = [];
    for (const block of blocksOf(steps).sort((a, b) => a.first.localeCompare(b.first))) {
      let row = ends.findIndex((end) => end < block.first);
      if (row < 0) row = rows.push([]) - 1;
      rows[row]!.push(block);
      ends[row] = block.last;
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
