import { existsSync } from 'node:fs';

/** Debian's Chromium; the one without windows, where it is, for it draws a page in two thirds of the time. */
export const chromiumPath = ['/usr/bin/chromium-headless-shell', '/usr/bin/chromium'].find((path) => existsSync(path));
