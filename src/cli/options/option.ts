/** Under which heading of the help an option stands. */
export type Group = 'what' | 'how long' | 'output';

interface Common {
  readonly describe: string;
  /** `what` if not given. */
  readonly group?: Group;
  /** True if the command does nothing without it. */
  readonly required?: true;
  /** How it was called before: then the message says how it is called now. */
  readonly was?: string;
}

/** `names`: a list with commas; given several times, they add up. `of`: what there is to choose from. */
export type Option = Common &
  (
    | { readonly kind: 'flag' }
    | { readonly kind: 'text'; readonly default?: string }
    /** In a project file it is relative to that file. */
    | { readonly kind: 'path'; readonly default?: string }
    | {
        readonly kind: 'names';
        readonly default?: string;
        readonly of?: readonly string[] | undefined;
        /** They are relative to the project file that says them. */
        readonly arePaths?: boolean;
      }
    | { readonly kind: 'choice'; readonly of: readonly string[]; readonly default?: string }
    | {
        readonly kind: 'whole' | 'seconds' | 'percent';
        readonly default?: number;
        /** 1 if not given; `null` for any. */
        readonly least?: number | null;
        readonly most?: number;
        readonly example: number;
      }
  );

export type Options = Readonly<Record<string, Option>>;

type Value<One extends Option> = One extends { kind: 'flag' }
  ? boolean
  : One extends { kind: 'choice'; of: infer Of extends readonly string[] }
    ? Of[number]
    : One extends { kind: 'whole' | 'seconds' | 'percent' }
      ? number
      : string;

type Camel<Name extends string> = Name extends `${infer First}-${infer Rest}`
  ? `${First}${Capitalize<Camel<Rest>>}`
  : Name;

type IsThere<One extends Option> = One extends
  { kind: 'flag' } | { default: unknown } | { required: true }
  ? true
  : false;

/** The arguments that a command is given. */
export type Arguments<Of extends Options> = {
  readonly [
    Name in keyof Of & string as IsThere<Of[Name]> extends true ? Camel<Name> : never
  ]: Value<Of[Name]>;
} & {
  readonly [Name in keyof Of & string as IsThere<Of[Name]> extends true ? never : Camel<Name>]?:
    Value<Of[Name]> | undefined;
};
