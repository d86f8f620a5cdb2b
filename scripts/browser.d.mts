import type { BrowserContext } from 'playwright-core';

export const frameworks: readonly string[];
export function chromiumPath(): string | undefined;
export function installChromium(): string | undefined;
export const chromiumArguments: string[];
export const appAddress: string;
export function serveApp(context: BrowserContext): Promise<unknown>;
