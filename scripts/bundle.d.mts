export function bundle(entries: readonly string[], outdir: string, options?: { readonly whole?: boolean }): Promise<unknown>;
