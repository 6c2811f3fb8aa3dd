import { expect, test } from 'vitest';

const all = import.meta.glob<string>('../**/*.{tsx,css}', { query: '?raw', import: 'default', eager: true });
const files = Object.keys(all);
const read = (file: string) => all[file];
const dirname = (file: string) => file.slice(0, file.lastIndexOf('/'));
const definedIn = (css: string) =>
  new Set([...css.replace(/\/\*[\s\S]*?\*\//g, '').matchAll(/\.(-?[A-Za-z][\w-]*)/g)].map((m) => m[1]));
const components = files.filter((f) => f.endsWith('.tsx') && !f.endsWith('.test.tsx'));

/** Classes of Ant Design and CodeMirror, and states that only scripts look at. */
const OTHERS = /^(ant-|cm-)/;

test('every class of a module that a component names is defined in it', () => {
  const missing: string[] = [];
  for (const file of components) {
    const text = read(file);
    for (const [, name, path] of text.matchAll(/import (\w+) from '(\.[^']*\.module\.css)'/g)) {
      const defined = definedIn(read(`${dirname(file)}/${path.replace('./', '')}`));
      for (const [, used] of text.matchAll(new RegExp(`(?<![\\w.])${name}\\.(\\w+)`, 'g')))
        if (!defined.has(used)) missing.push(`${file}: ${name}.${used}`);
    }
  }
  expect(missing).toEqual([]);
});

test('every class that is shared is defined', () => {
  const defined = new Set(files.filter((f) => /(?<!\.module)\.css$/.test(f)).flatMap((f) => [...definedIn(read(f))]));
  const missing = new Set<string>();
  for (const file of components) {
    for (const [, plain, template] of read(file).matchAll(/className=(?:"([^"]*)"|\{`([^`]*)`\})/g)) {
      const names = (plain ?? template).replace(/\$\{[^}]*\}/g, ' ').split(/\s+/);
      for (const n of names) if (n && !defined.has(n) && !OTHERS.test(n)) missing.add(`${file}: ${n}`);
    }
  }
  expect([...missing]).toEqual([]);
});

test('every class of a module is used', () => {
  const unused: string[] = [];
  for (const file of files.filter((f) => f.endsWith('.module.css'))) {
    const users = components
      .filter((c) => dirname(c) === dirname(file))
      .map(read)
      .filter((text) => text.includes(file.slice(file.lastIndexOf('/') + 1)));
    for (const name of definedIn(read(file)))
      if (!users.some((text) => new RegExp(`\\.${name}\\b`).test(text))) unused.push(`${file}: ${name}`);
  }
  expect(unused).toEqual([]);
});
