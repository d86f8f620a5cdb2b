import type { Weighing } from './weigh-result.js';

/** What `leeshore weigh --json` prints; described by `schema/weight-1.schema.json`. */
export interface WeighingJson extends Weighing {
  readonly leeshoreWeight: 1;
}

/** What stores weigh, as JSON data. */
export const weighingToJson = (weighing: Weighing): WeighingJson => ({
  leeshoreWeight: 1,
  ...weighing,
});
