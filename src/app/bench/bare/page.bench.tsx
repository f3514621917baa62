/** For `npm run bench` alone: what Next itself brings to a page. */
export const dynamic = "force-dynamic";

export default function Page() {
  return <p>Bare</p>;
}
