/** The state of all stores, by store: its fields by name, or its one value. */
export type State = Readonly<Record<string, unknown>>;
