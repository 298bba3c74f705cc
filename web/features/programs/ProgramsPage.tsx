import { Mark } from '../../desk/Mark';
import { operationsIn, type Description, type Field, type Told } from './told';
import classes from './programs.module.css';

/** The description for programs as a page: what there is, what it takes, how it is asked. */
export function ProgramsPage({ description }: { description: Description }) {
  const groups = operationsIn(description);
  return (
    <main className={classes.page}>
      <header className={classes.head}>
        <a href="/" aria-label="Mesura: to the projects">
          <Mark size={26} />
        </a>
        <h1>For programs</h1>
        <a href="/api/v1/openapi.json" className={classes.file}>
          OpenAPI {description.openapi}
        </a>
      </header>
      <p>{description.info.description}</p>
      <p>
        A study is a job: it is begun with POST and answers at once, or when it ends within the seconds of “prefer:
        wait=30”; then its result is fetched. What goes wrong is told as a problem document (RFC 9457) with a code.
      </p>
      <pre>{`curl -H "authorization: Bearer $MESURA_TOKEN" -H "prefer: wait=30" \\
  -d '{"options": {"at": ["BRA 11 A"], "kind": "all"}, "format": "csv"}' \\
  http://127.0.0.1:3000/api/v1/projects/PROJECT/studies/faults`}</pre>
      <nav aria-label="Groups">
        {groups.map(({ group }) => (
          <a key={group} href={`#${group}`}>
            {group}
          </a>
        ))}
      </nav>
      {groups.map(({ group, operations }) => (
        <section key={group} id={group} aria-label={group}>
          <h2>{group}</h2>
          {operations.map((operation) => (
            <Operation key={operation.id} operation={operation} />
          ))}
        </section>
      ))}
    </main>
  );
}

function Operation({ operation }: { operation: Told }) {
  const { id, method, path, summary, scope, fields, takesFile, answers } = operation;
  return (
    <details id={id} className={classes.operation}>
      <summary>
        <code className={classes.method}>{method}</code> <code>{path}</code> <span>{summary}</span>
      </summary>
      <p className={classes.note}>
        {scope ? `Asks for a token made for “${scope}”.` : 'Asks for no token.'}
        {takesFile && ' The body is the file.'}
      </p>
      {fields.length > 0 && <Fields fields={fields} />}
      <ul className={classes.answers}>
        {answers.map(({ status, means, type }) => (
          <li key={status}>
            <code>{status}</code> {means} {type && <span className={classes.note}>({type})</span>}
          </li>
        ))}
      </ul>
    </details>
  );
}

function Fields({ fields }: { fields: readonly Field[] }) {
  return (
    <table className={classes.fields}>
      <thead>
        <tr>
          <th>Takes</th>
          <th>In</th>
          <th>What</th>
          <th>Meaning</th>
        </tr>
      </thead>
      <tbody>
        {fields.map(({ name, place, type, means, isRequired }) => (
          <tr key={`${place} ${name}`}>
            <td>
              <code>{name}</code>
              {isRequired && ' (needed)'}
            </td>
            <td>{place}</td>
            <td>{type}</td>
            <td>{means}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
