/** Moves the global Date of the surroundings in which it runs by so many milliseconds. */
export function moveDate(ahead: number): void;
