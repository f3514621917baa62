export function testFiles(root: string): string[];
export function chooseTests(given: string[], files: string[], read: (file: string) => string): { files: string[]; name: string | null };
export function readAt(root: string): (file: string) => string;
