import type { Schema } from '../api/client';

export type Step = Schema['StepRow'];
export type Bar = Schema['RoadmapBar'];
export type Status = Schema['StepStatus'];

/** "Refresh": the first word of a line. */
export const capital = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);

const oneDay = 86_400_000;

/** The Monday a number of weeks later. */
export const weeksLater = (monday: string, weeks: number) =>
  new Date(Date.parse(monday) + weeks * 7 * oneDay).toISOString().slice(0, 10);

/** How many weeks lie between two Mondays. */
export const weeksBetween = (from: string, to: string) =>
  Math.round((Date.parse(to) - Date.parse(from)) / (7 * oneDay));
