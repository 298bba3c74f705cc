/** Every command that the documents show runs as it stands there, and where a head follows it, that is the head. */
import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { perform } from './run';

const at = (path: string) => new URL(`../../${path}`, import.meta.url);
const text = (path: string) => readFileSync(at(path), 'utf8');

interface Example {
  readonly command: string;
  /** The line after it, where one is shown. */
  readonly head: string | null;
}

/** Commands of code blocks that name real files; those with a place to fill in are left out. */
function examplesIn(path: string): Example[] {
  const blocks = [...text(path).matchAll(/^```\w*\n([^]*?)^```/gm)].map(([, block]) => block.split('\n'));
  return blocks.flatMap((lines) =>
    lines.flatMap((line, k): Example[] => {
      if (!/^mesura \w/.test(line) || /(FILE|NAME|PROJECT|\[options\]|\|)/.test(line)) return [];
      const next = lines[k + 1] ?? '';
      return [{ command: line, head: next === '' || /^(mesura |#|%|…)/.test(next) ? null : next }];
    }),
  );
}

/** As a shell parts words. */
const words = (line: string): string[] =>
  [...line.matchAll(/(?:"([^"]*)"|'([^']*)'|[^\s"']+)+/g)].map(([word]) =>
    word.replace(/"([^"]*)"|'([^']*)'/g, (_, p?: string, q?: string) => p ?? q ?? ''),
  );

describe('examples', () => {
  for (const path of ['docs/cli.md', 'docs/formulas.md', 'docs/formats/networks.md', 'README.md'])
    for (const { command, head } of examplesIn(path))
      it(`${path}: ${command}`, async () => {
        const { code, output, errors, bytes } = await perform(words(command).slice(1), text, (file) =>
          readFileSync(at(file)),
        );
        expect([0, 3], errors).toContain(code);
        const written = bytes ? new TextDecoder().decode(bytes) : output;
        expect(written.length).toBeGreaterThan(10);
        if (head !== null) expect(written.split(/\r?\n/)[0].split(/\s{2,}|,/)).toEqual(head.split(/\s{2,}|,/));
      });
  it('are found', () => {
    expect(examplesIn('docs/cli.md').length).toBeGreaterThan(20);
    expect(examplesIn('docs/formulas.md').length).toBeGreaterThan(30);
  });
});
