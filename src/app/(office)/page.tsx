export default function Page() { return <main>Elkhorn</main>; }
