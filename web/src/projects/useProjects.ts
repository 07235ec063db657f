import { queryOptions } from '@tanstack/react-query';
import { answer, listApi, type Schema } from '../api/client';
import { keyOf } from '../api/keys';
import type { ListState } from '../pieces/useListState';

export type Project = Schema['ProjectEntry'];

/** All projects, whatever their state. */
export const allProjects = queryOptions({
  queryKey: keyOf('projects in brief'),
  queryFn: () => answer(listApi.GET('/api/projects')),
  staleTime: 2_000,
});

/** What a project is called on screen. */
export const titleOf = (project: Pick<Project, 'name' | 'host' | 'id'>) => project.name || project.host || project.id;

export const states = [
  { state: 'active', says: 'worked on' },
  { state: 'archived', says: 'archived' },
  { state: 'deleted', says: 'trash' },
] as const;

/** Which projects are asked for, from the address. */
export const projectsQuery = (list: ListState) => ({
  state: (list.text('state') ?? 'active') as Project['state'],
  search: list.text('search'),
  sort: list.text('sort'),
  down: list.text('down') === '1',
});

type ProjectsQuery = ReturnType<typeof projectsQuery>;

const values: Record<string, (project: Project) => string | number> = {
  name: (p) => titleOf(p).toLowerCase(),
  site: (p) => p.host,
  market: (p) => p.country + p.language,
  keywords: (p) => p.keywords ?? -1,
  changed: (p) => p.changedAt,
  size: (p) => p.bytes,
  gone: (p) => p.goneAt ?? '',
};

/** Those of a state whose name, site or market has every typed word, in the order asked for. */
export function chosen(projects: readonly Project[], { state, search, sort, down }: ProjectsQuery) {
  const typed = (search ?? '').toLowerCase().split(/\s+/).filter(Boolean);
  const fitting = projects.filter((p) => {
    const text = [p.name, p.host, p.id, p.country, p.language].join(' ').toLowerCase();
    return p.state === state && typed.every((word) => text.includes(word));
  });
  const value = sort === undefined ? undefined : values[sort];
  if (!value) return fitting;
  const order = (a: Project, b: Project) => (value(a) < value(b) ? -1 : value(a) > value(b) ? 1 : 0);
  return fitting.sort((a, b) => (down ? order(b, a) : order(a, b)));
}
