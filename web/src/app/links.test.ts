import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';

const sources = readdirSync('src', { recursive: true, encoding: 'utf8' }).filter(
  (name) => /\.tsx?$/.test(name) && !/\.test\./.test(name) && !name.endsWith('schema.d.ts'),
);

/** Addresses of the application that the code names, without what follows a question mark. */
function addresses() {
  const found = new Map<string, string>();
  for (const name of sources) {
    const text = readFileSync(join('src', name), 'utf8');
    for (const [, address] of text.matchAll(/(?:\bto=\{?|\bnavigate\(|\baddress: )[`'"](\/[a-z/-]*)/g))
      found.set(address!, name);
  }
  return found;
}

describe('links', () => {
  it('lead to a screen that there is', () => {
    const shell = readFileSync('src/app/Shell.tsx', 'utf8');
    const routes = new Set([...shell.matchAll(/<Route path="([a-z/-]+)"/g)].map(([, path]) => `/${path}`));
    routes.add('/');
    expect(routes.size).toBeGreaterThan(8);
    expect(addresses().size).toBeGreaterThan(8);
    expect([...addresses()].filter(([address]) => !routes.has(address))).toEqual([]);
  });
});
