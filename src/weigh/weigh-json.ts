import type { Weighing } from './weigh-result.js';

/** The output of `leeshore weigh --json`; described by `schema/weight-1.schema.json`. */
export interface WeighingJson extends Weighing {
  readonly leeshoreWeight: 1;
}

/** The sizes of stores, as JSON data. */
export const weighingToJson = (weighing: Weighing): WeighingJson => ({
  leeshoreWeight: 1,
  ...weighing,
});
