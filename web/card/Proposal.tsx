'use client';

import { Button, Text } from '@mantine/core';
import { confirmed, validate, withValue } from '@mesura/core/fields/schemaFields';
import { nameOf } from '@mesura/core/model/element';
import type { ElementId } from '@mesura/core/model/fields';
import type { Problem } from '@mesura/core/model/problem';
import { report } from '../desk/report';
import { useProjectStore } from '../project/ProjectContext';

/** Takes the proposed values over, as one change; where a person has to choose, it only says what. */
export function Proposal({
  element: id,
  proposal,
}: {
  element: ElementId | undefined;
  proposal: NonNullable<Problem['proposal']>;
}) {
  const store = useProjectStore();
  const take = () => {
    const { network, commit } = store.getState();
    const element = id && network.elements.get(id);
    if (!element) return;
    const changed = confirmed(
      proposal.takes.reduce((taken, { path, value }) => withValue(taken, path.split('.'), value), element),
      proposal.takes.map(({ path }) => path),
    );
    if (proposal.takes.every(({ path }) => validate(changed, path.split('.')) === null))
      report(commit([{ op: 'update', element: changed }], `${nameOf(element)}: ${proposal.text} as proposed`));
  };
  if (proposal.takes.length === 0) return <Text size="xs">Next standard size: {proposal.text}.</Text>;
  return (
    <Button size="compact-xs" variant="light" onClick={take}>
      Take {proposal.text}
    </Button>
  );
}
