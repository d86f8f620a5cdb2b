/** How a printed text looks: functions from text to text, the identity where colour is off, and its width. */
export interface Paint {
  /** The number of columns that a line may take. */
  readonly columns: number;
  readonly bold: (text: string) => string;
  readonly dim: (text: string) => string;
  readonly red: (text: string) => string;
  readonly green: (text: string) => string;
  readonly yellow: (text: string) => string;
  readonly cyan: (text: string) => string;
}

const plain = (text: string): string => text;

/** Without colours, 100 columns wide. */
export const plainPaint: Paint = {
  columns: 100,
  bold: plain,
  dim: plain,
  red: plain,
  green: plain,
  yellow: plain,
  cyan: plain,
};
