import type { Rule, Rulebook } from '@mesura/core/model/rulebook';
import { ruleDifferences } from '@mesura/core/rules/exchange';
import bench from '../../card/bench.module.css';

const said = (rule: Rule | null) =>
  rule === null
    ? '–'
    : `${rule.enabled ? '' : 'not in use: '}${rule.formula}${rule.at === null ? '' : ` at ${rule.at}`}, importance ${rule.importance}`;

/** What one rulebook has otherwise than another one, rule by rule. */
export function BookDifferences({ before, title, after }: { before: Rulebook; title: string; after: Rulebook }) {
  const differences = ruleDifferences(before, after);
  if (differences.length === 0) return <p className={bench.muted}>No rule differs.</p>;
  return (
    <table className={bench.table} aria-label="Rules that differ">
      <thead>
        <tr>
          <th>Rule</th>
          <th>{title}</th>
          <th>{after.name}</th>
        </tr>
      </thead>
      <tbody>
        {differences.map(({ id, title: rule, before: was, after: is, fields }) => (
          <tr key={id}>
            <td title={fields.join(', ')}>{rule}</td>
            <td className="figure">{said(was)}</td>
            <td className="figure">{said(is)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
