'use client';

import type { ElementDifference, FieldDifference } from '@mesura/core/model/difference';
import type { ElementKind } from '@mesura/core/model/element';
import { kinds } from '@mesura/core/model/element';
import type { ElementId } from '@mesura/core/model/fields';
import { formSections } from '@mesura/core/fields/schemaFields';
import { plainNumber } from '@mesura/core/fields/quantity';
import bench from '../../card/bench.module.css';
import classes from './history.module.css';

const words = { added: 'added', removed: 'removed', changed: 'changed' } as const;
const kindOf = (title: string): ElementKind | undefined =>
  (Object.keys(kinds) as ElementKind[]).find((kind) => kinds[kind].title === title);

/** What differs between two states, element by element, with the values before and after; `heads`: what the two are called, where that is not plain. */
export function Differences({
  list,
  heads,
  onGo,
}: {
  list: readonly ElementDifference[];
  heads?: readonly [before: string, after: string];
  onGo: (id: ElementId) => void;
}) {
  if (list.length === 0) return <p className={bench.muted}>Nothing differs.</p>;
  const moved = list.filter((each) => each.moved);
  const told = list.filter((each) => !each.moved);
  return (
    <>
      <table className={bench.table} aria-label="Differences">
        <tbody>
          {told.map((each) => (
            <tr key={each.id} data-what={each.what}>
              <td className={classes.verb} data-what={each.what}>
                {words[each.what]}
              </td>
              <td>
                {each.what === 'removed' ? (
                  each.name
                ) : (
                  <button type="button" className={bench.input} onClick={() => onGo(each.id)}>
                    {each.name}
                  </button>
                )}{' '}
                <span className={bench.muted}>{each.kind.toLowerCase()}</span>
                {each.fields.map((field) => (
                  <div key={field.path} className={classes.field}>
                    {titleOf(each.kind, field)}: {heads && `${heads[0]} `}
                    <span className="figure">{written(field.before)}</span> {heads ? `· ${heads[1]}` : '→'}{' '}
                    <span className="figure">{written(field.after)}</span>
                  </div>
                ))}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {moved.length > 0 && <p className={bench.muted}>{moved.length} only moved on the drawing.</p>}
    </>
  );
}

function titleOf(kind: string, { path }: FieldDifference): string {
  const known = kindOf(kind);
  const field =
    known &&
    formSections(known)
      .flatMap((section) => section.fields.map((each) => ({ each, section: section.title })))
      .find(({ each }) => each.path.join('.') === path);
  if (!field) return path;
  const { meta, path: parts } = field.each;
  return `${parts.length > 1 && field.section ? `${field.section}, ` : ''}${meta.title}${meta.unit ? ` in ${meta.unit}` : ''}`;
}

const written = (value: unknown): string =>
  value === undefined || value === null
    ? '–'
    : typeof value === 'number'
      ? plainNumber(value)
      : typeof value === 'string' || typeof value === 'boolean'
        ? String(value)
        : JSON.stringify(value).slice(0, 60);
