/** "a request", "an invoice": by the first letter, which is right for most names of tables. */
export const withArticle = (name: string): string => `${/^[aeiou]/i.test(name) ? "an" : "a"} ${name.toLowerCase()}`;
