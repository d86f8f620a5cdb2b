export function chromiumPath(): string | undefined;
export function installChromium(): string | undefined;
export const chromiumArguments: string[];
