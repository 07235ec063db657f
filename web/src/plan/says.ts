import type { Schema } from '../api/client';

export type Step = Schema['StepRow'];
export type Bar = Schema['RoadmapBar'];
export type Status = Schema['StepStatus'];

/** What a planner can make of a step; it goes live by itself. */
export const statuses: readonly { value: Status; says: string }[] = [
  { value: 'toDo', says: 'to do' },
  { value: 'inProgress', says: 'in progress' },
  { value: 'inReview', says: 'in review' },
  { value: 'done', says: 'done' },
  { value: 'live', says: 'live' },
  { value: 'dropped', says: 'dropped' },
];

export const kinds: readonly { value: Schema['StepKind']; says: string }[] = [
  { value: 'write', says: 'write' },
  { value: 'refresh', says: 'refresh' },
  { value: 'merge', says: 'merge' },
  { value: 'redirect', says: 'redirect' },
  { value: 'canonical', says: 'canonical' },
  { value: 'retitle', says: 'retitle' },
  { value: 'link', says: 'link' },
  { value: 'removeFromIndex', says: 'remove from index' },
  { value: 'leaveOut', says: 'leave out' },
];

/** "Refresh": the first word of a line. */
export const capital = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);

const oneDay = 86_400_000;

/** The Monday a number of weeks later. */
export const weeksLater = (monday: string, weeks: number) =>
  new Date(Date.parse(monday) + weeks * 7 * oneDay).toISOString().slice(0, 10);

/** How many weeks lie between two Mondays. */
export const weeksBetween = (from: string, to: string) =>
  Math.round((Date.parse(to) - Date.parse(from)) / (7 * oneDay));
