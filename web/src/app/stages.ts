/** The stages in the order in which planners work. */
export const stages = [
  { path: 'site', title: 'Site' },
  { path: 'keywords', title: 'Keywords' },
  { path: 'results', title: 'Results' },
  { path: 'clusters', title: 'Clusters' },
  { path: 'page-map', title: 'Page map' },
  { path: 'findings', title: 'Findings' },
  { path: 'plan', title: 'Plan' },
  { path: 'briefs', title: 'Briefs' },
  { path: 'refresh', title: 'Refresh' },
] as const;

/** What a stage is called, by its path: "Page map". */
export const stageTitle = (path: string) =>
  stages.find((stage) => path.replace(/^\//, '').startsWith(stage.path))?.title ?? 'Overview';
