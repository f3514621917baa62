/** A page of what is in memory, with what its pager needs. */
export function paged<T>(all: readonly T[], asked: string | undefined, size: number) {
  const pages = Math.max(1, Math.ceil(all.length / size));
  const page = Math.min(pages, Math.max(1, Number.parseInt(asked ?? "1", 10) || 1));
  return { list: all.slice((page - 1) * size, page * size), page, pages, size, total: all.length };
}
