/** Terminals that hang together without impedance, by name: nodes as exchange formats have them. */
import { ofKind, type Network } from '../model/network';

/** A union of keys. */
export class Union {
  private readonly parent = new Map<string, string>();

  root(key: string): string {
    let at = key;
    for (let up = this.parent.get(at); up !== undefined; up = this.parent.get(at)) {
      // Halved on the way, so that long chains stay short.
      const above = this.parent.get(up);
      if (above !== undefined) this.parent.set(at, above);
      at = up;
    }
    return at;
  }

  join(p: string, q: string): void {
    const [a, b] = [this.root(p), this.root(q)];
    if (a !== b) this.parent.set(a, b);
  }
}

export const terminalName = (element: string, terminal: number): string => `${element}:${terminal}`;

/** What connections join; further things without impedance are for the caller to join. */
export function joinedTerminals(network: Network): Union {
  const union = new Union();
  for (const { from, to } of ofKind(network, 'connection'))
    union.join(terminalName(from.element, from.terminal), terminalName(to.element, to.terminal));
  return union;
}
