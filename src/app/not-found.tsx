import { Nothing } from "@/features/office/ui/nothing";

export default function NotFound() {
  return (
    <main className="mx-auto grid min-h-dvh max-w-xl content-start gap-5 px-5 py-16">
      <Nothing>Check it for a slip of the pen, or begin from the top.</Nothing>
      <p>
        <a className="btn" href="/">
          To the first page
        </a>
      </p>
    </main>
  );
}
