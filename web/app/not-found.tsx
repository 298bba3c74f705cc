import Link from 'next/link';

export default function NotFound() {
  return (
    <main style={{ padding: 48 }}>
      <h1>Nothing here</h1>
      <p>This project does not exist, or was deleted.</p>
      <p>
        <Link href="/">To the projects</Link>
      </p>
    </main>
  );
}
