'use client';

/** Shown when a page cannot be made, above all when the database does not answer. Nothing stored is touched. */
export default function PageError({ reset }: { error: Error; reset: () => void }) {
  return (
    <main style={{ padding: 48 }}>
      <h1>This page cannot be shown just now</h1>
      <p>
        Either the database does not answer, or Mesura itself failed. What was saved is safe; changes not saved yet wait
        in this browser.
      </p>
      <button onClick={reset}>Try again</button>
    </main>
  );
}
