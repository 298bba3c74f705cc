import { Button, Group, Progress } from '@mantine/core';
import type { Report } from '@mesura/core/formats/format';
import { remarkText, type Remark } from '@mesura/core/formats/remarks';
import classes from './exchange.module.css';

/** While a file is read. */
export function Reading({ progress, onCancel }: { progress: number | null; onCancel: () => void }) {
  return (
    <>
      <p role="status" className={classes.format}>
        Reading … {progress === null ? '' : `${Math.round(100 * progress)} %`}
      </p>
      <Progress value={100 * (progress ?? 0)} size="sm" aria-label="Share of the file that is read" />
      <Group justify="flex-end" mt="md">
        <Button variant="default" onClick={onCancel}>
          Cancel
        </Button>
      </Group>
    </>
  );
}

export const Refused = ({ message }: { message: string }) => (
  <p role="alert" className={classes.refused}>
    {message}
  </p>
);

/** What a file brings, what is assumed, left out and refused. */
export function ReportView({
  report: { format, found, problems, assumed, left },
}: {
  report: Pick<Report, 'format' | 'found' | 'problems' | 'assumed' | 'left'>;
}) {
  return (
    <>
      <p className={classes.format}>A file of {format}.</p>
      {found.length > 0 && (
        <table className={classes.found} aria-label="What it brings">
          <tbody>
            {found.map(({ what, count }) => (
              <tr key={what}>
                <td>{what}</td>
                <td className="figure">{count}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <Remarks title="Assumed, where the file says nothing" remarks={assumed} />
      <Remarks title="Left out" remarks={left} />
      {problems.length > 0 && (
        <>
          <h3 className={classes.head}>
            {problems.length === 1 ? '1 remark' : `${problems.length} remarks`}; what is told here is left out
          </h3>
          <ul className={classes.problems} aria-label="Not taken">
            {problems.slice(0, 200).map(({ message }, k) => (
              <li key={k}>{message}</li>
            ))}
            {problems.length > 200 && <li>and {problems.length - 200} more</li>}
          </ul>
        </>
      )}
    </>
  );
}

function Remarks({ title, remarks }: { title: string; remarks: readonly Remark[] | undefined }) {
  if (!remarks || remarks.length === 0) return null;
  return (
    <details className={classes.remarks} open={remarks.length <= 4}>
      <summary>
        {title} <span className="figure">{remarks.length}</span>
      </summary>
      <ul className={classes.problems} aria-label={title}>
        {remarks.map((remark) => (
          <li key={remark.message}>{remarkText(remark)}</li>
        ))}
      </ul>
    </details>
  );
}
