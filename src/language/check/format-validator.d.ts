/** The format's JSON Schema, compiled ahead of time by the build. */
export interface FormatError {
  readonly keyword: string;
  readonly instancePath: string;
  readonly message?: string;
  readonly params: Readonly<Record<string, unknown>>;
  readonly parentSchema?: Readonly<Record<string, unknown>>;
  /** The key that is wrong, of an error within 'propertyNames'. */
  readonly propertyName?: string;
}

declare const validateFormat: {
  (data: unknown): boolean;
  errors?: readonly FormatError[] | null;
};
export default validateFormat;
