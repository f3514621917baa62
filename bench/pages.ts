export async function benchPages(): Promise<void> {}
