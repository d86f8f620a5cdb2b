// Writes the licences of the packages that are built into the program, from what the bundler says it has taken in.
import { existsSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';

/** The folders of packages that inputs of a build are from: the innermost `node_modules/NAME` of each. */
function foldersIn(metafiles) {
  const folders = new Set();
  for (const { inputs } of metafiles)
    for (const path of Object.keys(inputs)) {
      const found = /^(.*node_modules\/(?:@[^/]+\/)?[^/]+)\//.exec(path);
      if (found !== null) folders.add(found[1]);
    }
  return [...folders].sort();
}

function licenceIn(folder) {
  const { name, version, license } = JSON.parse(readFileSync(join(folder, 'package.json'), 'utf8'));
  const file = readdirSync(folder).find((one) =>
    /^licen[cs]e(?:[-.]mit)?(?:\.md|\.txt)?$/i.test(one),
  );
  const own = file === undefined ? readmeLicence(folder) : readFileSync(join(folder, file), 'utf8');
  if (own === undefined) throw new Error(`${name} says no licence: look at ${folder}`);
  // What is built into a package has licences of its own.
  const more = readdirSync(folder).filter((one) => /^(?:notice|third-party)/i.test(one));
  const texts = [own, ...more.map((one) => readFileSync(join(folder, one), 'utf8'))];
  return { title: `${name} ${version} (${license})`, text: texts.join('\n\n').trim() };
}

/** Some packages have their licence in the read-me only. */
function readmeLicence(folder) {
  const readme = readdirSync(folder).find((one) => /^readme/i.test(one));
  const text = readme && readFileSync(join(folder, readme), 'utf8');
  return /^#+ *licen[cs]e[^]*/im.exec(text ?? '')?.[0];
}

/** Writes them to a file. */
export function writeLicences(metafiles, path) {
  const found = foldersIn(metafiles).filter((folder) => existsSync(join(folder, 'package.json')));
  const all = new Map(found.map(licenceIn).map((one) => [one.title, one]));
  const licences = [...all.values()].sort((a, b) => (a.title < b.title ? -1 : 1));
  const texts = licences.map(
    ({ title, text }) => `${title}\n${'-'.repeat(title.length)}\n\n${text}\n`,
  );
  writeFileSync(
    path,
    `The program has parts of these ${licences.length} packages in it. What it generates has none of them in it.\n\n${texts.join('\n\n')}`,
  );
}
