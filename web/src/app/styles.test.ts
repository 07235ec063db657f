import { readdirSync, readFileSync } from 'node:fs';
import { dirname, join, relative } from 'node:path';
import { describe, expect, it } from 'vitest';

const root = join(process.cwd(), 'src');
const files = readdirSync(root, { recursive: true, encoding: 'utf8' }).map((name) => join(root, name));
const sheets = files.filter((name) => name.endsWith('.module.css'));
const code = files.filter((name) => /\.tsx?$/.test(name) && !/\.test\./.test(name));

/** The classes that a style sheet defines. */
const classesOf = (sheet: string) =>
  new Set(
    [
      ...readFileSync(sheet, 'utf8')
        .replace(/\/\*[\s\S]*?\*\//g, '')
        .replace(/:global\([^)]*\)/g, '')
        .replace(/url\([^)]*\)/g, '')
        .matchAll(/\.([A-Za-z][\w-]*)/g),
    ].map((match) => match[1]!),
  );

/** What files take from a style sheet: named classes, and whether any are chosen by a value. */
function uses() {
  const found = new Map(sheets.map((sheet) => [sheet, { named: new Map<string, string>(), isChosen: false }]));
  for (const file of code) {
    const whole = readFileSync(file, 'utf8');
    const text = whole.replace(/^import .*;$/gm, '');
    for (const [, name, path] of whole.matchAll(/import (\w+) from '([^']+\.module\.css)'/g)) {
      const use = found.get(join(dirname(file), path!))!;
      for (const match of text.matchAll(new RegExp(`\\b${name}\\.([A-Za-z]\\w*)`, 'g')))
        use.named.set(match[1]!, relative(root, file));
      use.isChosen ||= new RegExp(`\\b${name}\\[`).test(text);
    }
  }
  return found;
}

/** Named by values that the server sends: marks of coverage, and lines of a chart by their number. */
const chosen = ['covered', 'planned', 'contested', 'uncovered', 'declined', 's0', 's1', 's2', 's3', 's4', 's5'];

describe('style sheets', () => {
  it.each([...uses()].map(([sheet, use]) => [relative(root, sheet), sheet, use] as const))(
    '%s defines what is used, and nothing else',
    (_, sheet, use) => {
      const defined = classesOf(sheet);
      expect([...use.named].filter(([name]) => !defined.has(name))).toEqual([]);
      expect([...defined].filter((name) => !use.named.has(name) && !(use.isChosen && chosen.includes(name)))).toEqual(
        [],
      );
    },
  );

  it('use colours of the theme alone', () => {
    for (const sheet of [...sheets, join(root, 'app/base.css')])
      expect(readFileSync(sheet, 'utf8').match(/#[0-9a-f]{3,8}\b|rgba?\(/gi) ?? [], sheet).toEqual([]);
  });
});
