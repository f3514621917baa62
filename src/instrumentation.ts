export async function register(): Promise<void> {
  if (process.env.NEXT_RUNTIME !== "nodejs") return;
  const { begin } = await import("./server/begin");
  await begin();
}
