import { spawn } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { describe, expect, test } from '@jest/globals';
import { root } from '../helpers.js';
import { inFolder, leeshore } from './run.js';

const schema = `leeshore: 1
stores:
  ramp:
    state: { angle: { type: number, default: 0 } }
    actions:
      raise: { payload: number, steps: [{ set: { angle: "angle + payload" } }] }
      level: [{ set: { angle: "0" } }]
`;
const participant = `import { Ramp } from './ramp.js';
export default {
  name: 'old ramp',
  create: () => {
    const ramp = new Ramp();
    return {
      actions: { ramp: { raise: (by) => ramp.raise(by), level: () => ramp.level() } },
      state: { ramp: { angle: () => ramp.angle } },
    };
  },
};
`;
const ramp = (raise: string) =>
  `export class Ramp { angle = 0; raise(by) { ${raise} } level() { this.angle = 0; } }\n`;
const files = {
  'ramp.stores.yaml': schema,
  'old.participant.js': participant,
  'ramp.js': ramp('this.angle -= by;'),
};

const inRampFolder = (test: (folder: string) => Promise<void>) =>
  inFolder((folder) => {
    for (const [name, text] of Object.entries(files)) writeFileSync(join(folder, name), text);
    return test(folder);
  });

describe('compare --watch', () => {
  test('compares again when a module is saved that the old store is made of, until it is interrupted', () =>
    inRampFolder(async (folder) => {
      const program = fileURLToPath(new URL('bin/leeshore.js', root));
      const args = ['compare', 'ramp.stores.yaml', '--with', 'old.participant.js'];
      const more = ['--style', 'none', '--steps', '300', '--watch'];
      const child = spawn(process.execPath, [program, ...args, ...more], { cwd: folder });
      let out = '';
      for (const stream of [child.stdout, child.stderr])
        stream.on('data', (data: Buffer) => (out += data.toString()));
      const until = async (text: string) => {
        for (let i = 0; i < 400 && !out.includes(text); i++)
          await new Promise((resume) => setTimeout(resume, 50));
        expect(out).toContain(text);
        out = out.slice(out.indexOf(text) + text.length);
      };
      await until('different  old ramp differs from the reference after step 1 (ramp.raise).');
      await until('watching 3 files; stop with Ctrl-C');
      // It was wrong to mend it like that.
      writeFileSync(join(folder, 'ramp.js'), ramp('this.angle += by'.replace('+=', '= = ')));
      await until('ramp.js saved: comparing again');
      await until('cannot be loaded');
      await until('watching 3 files');
      writeFileSync(join(folder, 'ramp.js'), ramp('this.angle += by;'));
      await until('no difference');
      await until('watching 3 files');
      const ended = new Promise<number | null>((resolve) => child.on('close', resolve));
      child.kill('SIGINT');
      expect(await ended).toBe(130);
    }));

  test.each([['--json'], ['--junit', 'a.xml'], ['--script', 'a.json'], ['--faults', '3']])(
    'does not go together with %s',
    (...option) =>
      inRampFolder(async (folder) => {
        const { code, err } = await leeshore(
          folder,
          'compare',
          'ramp.stores.yaml',
          '--watch',
          ...option,
        );
        expect(code).toBe(2);
        expect(err).toContain('do not go together');
      }),
  );
});
