/** What the addresses of the open project begin with: "/p/" and its id; empty where no project is named. */
export const base = /^\/p\/[^/]+/.exec(window.location.pathname)?.[0] ?? '';

/** Whether this window shows the list of projects, and none of them. */
export const isProjectsPage = window.location.pathname === '/projects';

/** The address of a file of the open project. */
export const fileUrl = (path: string) => base + path;

/** The address of a project. */
export const projectUrl = (id: string) => `/p/${encodeURIComponent(id)}/`;
