/** Something the user can do, by key, from the command search or from a button. */
export interface Action {
  readonly id: string;
  readonly title: string;
  /** As Mantine's hotkeys write them: "mod+z", "shift+ArrowLeft". */
  readonly keys: readonly string[];
  readonly group: string;
  readonly run: () => unknown;
  /** Changes the drawing: only in the Network stage. */
  readonly editing?: boolean;
  /** Its keys mean it in a text field too. */
  readonly inFields?: boolean;
}

/** A key as it is printed on the keyboard. */
export const keyName = (keys: string): string =>
  keys
    .split('+')
    .map(
      (key) =>
        ({
          mod: 'Ctrl',
          shift: 'Shift',
          alt: 'Alt',
          ArrowLeft: '←',
          ArrowRight: '→',
          ArrowUp: '↑',
          ArrowDown: '↓',
          Delete: 'Del',
        })[key] ?? (key.length === 1 ? key.toUpperCase() : key),
    )
    .join(' ');
