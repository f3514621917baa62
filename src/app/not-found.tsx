export default function NotFound() {
  return (
    <main className="mx-auto max-w-md px-6 py-24">
      <h1>There is nothing at this address</h1>
      <p className="quiet mt-2">Check the address for a slip of the pen.</p>
    </main>
  );
}
