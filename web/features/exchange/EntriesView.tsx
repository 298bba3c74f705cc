import { useMemo, useState } from 'react';
import { Button, Checkbox, SegmentedControl, TextInput } from '@mantine/core';
import type { Entry } from '@mesura/core/formats/format';
import classes from './exchange.module.css';

const groups = {
  new: 'New',
  changed: 'Different here',
  rewired: 'Joined elsewhere',
  gone: 'No longer in the file',
} as const;
type Group = keyof typeof groups;

/** So many rows are drawn at a time; the search finds the others. */
const shownAtOnce = 200;

/** What a file would change, element by element, each to be taken or left. */
export function EntriesView({
  entries,
  chosen,
  onChange,
}: {
  entries: readonly Entry[];
  chosen: ReadonlySet<string>;
  onChange: (chosen: ReadonlySet<string>) => void;
}) {
  const present = useMemo(
    () => (Object.keys(groups) as Group[]).filter((group) => entries.some(({ what }) => what === group)),
    [entries],
  );
  const [group, setGroup] = useState<Group>(present.find((each) => each !== 'new') ?? present[0]);
  const [search, setSearch] = useState('');
  const inGroup = useMemo(() => entries.filter(({ what }) => what === group), [entries, group]);
  const wanted = search.trim().toLowerCase();
  const found =
    wanted === '' ? inGroup : inGroup.filter((each) => `${each.kind} ${each.name}`.toLowerCase().includes(wanted));
  const count = found.filter(({ key }) => chosen.has(key)).length;
  const set = (keys: readonly string[], isChosen: boolean) => {
    const next = new Set(chosen);
    for (const key of keys) {
      if (isChosen) next.add(key);
      else next.delete(key);
    }
    onChange(next);
  };
  // What is all new is rarely chosen one by one.
  const [isOpen, setOpen] = useState(present.some((each) => each !== 'new'));
  if (!isOpen)
    return (
      <Button variant="subtle" size="compact-sm" mt="sm" onClick={() => setOpen(true)}>
        Choose element by element
      </Button>
    );
  return (
    <section aria-label="Element by element" className={classes.entries}>
      <div className={classes.entriesHead}>
        <SegmentedControl
          aria-label="Which elements"
          size="xs"
          value={group}
          onChange={(value) => setGroup(value as Group)}
          data={present.map((each) => ({
            value: each,
            label: `${groups[each]} ${entries.filter(({ what }) => what === each).length}`,
          }))}
        />
        <TextInput
          size="xs"
          placeholder="Name or kind"
          aria-label="Find an element"
          value={search}
          onChange={(event) => setSearch(event.currentTarget.value)}
        />
      </div>
      <div className={classes.entriesTable}>
        <table>
          <thead>
            <tr>
              <th>
                <Checkbox
                  size="xs"
                  aria-label="All of these"
                  checked={count > 0 && count === found.length}
                  indeterminate={count > 0 && count < found.length}
                  onChange={(event) =>
                    set(
                      found.map(({ key }) => key),
                      event.currentTarget.checked,
                    )
                  }
                />
              </th>
              <th>Element</th>
              <th>Kind</th>
              <th>{group === 'new' || group === 'gone' ? '' : 'Here → in the file'}</th>
            </tr>
          </thead>
          <tbody>
            {found.slice(0, shownAtOnce).map(({ key, kind, name, differences }) => (
              <tr key={key}>
                <td>
                  <Checkbox
                    size="xs"
                    aria-label={`Take ${name}`}
                    checked={chosen.has(key)}
                    onChange={(event) => set([key], event.currentTarget.checked)}
                  />
                </td>
                <td>{name}</td>
                <td>{kind}</td>
                <td>
                  {differences.map(({ field, before, after }) => (
                    <div key={field}>
                      {field}: <span className="figure">{before}</span> → <span className="figure">{after}</span>
                    </div>
                  ))}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
        {found.length > shownAtOnce && (
          <p className={classes.format}>and {found.length - shownAtOnce} more: find them by name</p>
        )}
      </div>
    </section>
  );
}
