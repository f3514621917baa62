/** Long lists are asked for some at a time: so a page says how far it is, and the server answers others in between. */
export async function someAtATime<T, A>(
  all: readonly T[],
  size: number,
  ask: (some: readonly T[], before: A | null) => Promise<A | null>,
  told: (done: number) => void,
): Promise<A[] | null> {
  const answers: A[] = [];
  for (let i = 0; i < all.length; i += size) {
    told(i);
    const answer = await ask(all.slice(i, i + size), answers.at(-1) ?? null);
    if (answer === null) return answers.length > 0 ? answers : null;
    answers.push(answer);
  }
  return answers;
}
