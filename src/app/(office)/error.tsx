"use client";
/** Where a page or an action of the back office fails: what may be the reason, and the ways on. */
export default function Failed({ reset }: { error: Error; reset: () => void }) {
  return (
    <main className="mx-auto grid min-h-dvh max-w-md content-start gap-4 px-6 py-24" role="alert">
      <h1>This did not work</h1>
      <p>You may have been signed out meanwhile, or the server could not do it. Look whether it was kept before you do it again.</p>
      <p className="flex flex-wrap gap-3">
        <button type="button" className="btn btn-primary" onClick={reset}>
          Try again
        </button>
        <a className="btn" href="/sign-in">
          Sign in
        </a>
      </p>
    </main>
  );
}
