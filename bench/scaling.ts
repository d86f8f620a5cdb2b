import { styles } from '../src/base/styles.js';
import { checkSchemas } from '../src/jobs/check.js';
import { generateStyle } from '../src/jobs/generate.js';
import { readRuntime } from './generated.js';

/** A schema of so many stores, each with 10 actions and 5 derived values, some of which read other stores. */
export function schemaOf(stores: number): string {
  const lines = ['leeshore: 1', 'types:', '  Lane: { enum: [port, centre, starboard] }'];
  lines.push(
    '  Vehicle:',
    '    fields: { id: string, lengthM: number, lane: Lane, boarded: boolean }',
  );
  lines.push('stores:');
  for (let i = 0; i < stores; i++) {
    const before = i === 0 ? 'capacityM' : `deck${i - 1}.freeM`;
    lines.push(
      `  deck${i}:`,
      '    state:',
      '      vehicles: { list: Vehicle, by: id }',
      '      capacityM: { type: number, minimum: 0, default: 240 }',
      '      hold: { maybe: string }',
      '    derived:',
      '      onBoard: "vehicles.filter(v => v.boarded)"',
      '      usedM: "sum(onBoard, v => v.lengthM)"',
      '      freeM: "capacityM - usedM"',
      `      room: "freeM > ${i % 9} && hold === null"`,
      `      overflow: "${i % 50 === 0 ? 'capacityM' : before} < 0"`,
      '    actions:',
    );
    for (let k = 0; k < 10; k++)
      lines.push(
        `      widen${k}: { payload: number, steps: [{ set: { capacityM: "capacityM + payload * ${k}" } }] }`,
      );
  }
  return `${lines.join('\n')}\n`;
}

/** Milliseconds of CPU to check a schema of so many stores. */
export async function cpuToCheck(stores: number): Promise<number> {
  const text = schemaOf(stores);
  const before = process.cpuUsage();
  const { application } = await checkSchemas([{ path: `${stores}.stores.yaml`, text }]);
  if (application === undefined) throw new Error('the schema of the benchmark has problems');
  const { user, system } = process.cpuUsage(before);
  return (user + system) / 1000;
}

/** Milliseconds of CPU to generate that many stores in all four styles, formatted. */
export async function cpuToGenerate(stores: number): Promise<number> {
  const schema = `${stores}.stores.yaml`;
  const { application } = await checkSchemas([{ path: schema, text: schemaOf(stores) }]);
  if (application === undefined) throw new Error('the schema of the benchmark has problems');
  const before = process.cpuUsage();
  for (const style of styles)
    await generateStyle(application, style, { version: '0.0.0', schema, readRuntime });
  const { user, system } = process.cpuUsage(before);
  return (user + system) / 1000;
}
