export default function NotFound() {
  return (
    <div className="sheet mx-auto mt-10 max-w-md p-8">
      <h1>There is nothing here</h1>
      <p className="quiet mt-2">
        The address may be mistyped, or what it leads to is not yours to see. The lists above show all that is open to you.
      </p>
    </div>
  );
}
