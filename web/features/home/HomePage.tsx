'use client';

import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { useCallback, useEffect, useRef, useState } from 'react';
import {
  ActionIcon,
  Alert,
  Anchor,
  Button,
  Card,
  FileButton,
  Group,
  Menu,
  SimpleGrid,
  Skeleton,
  Stack,
  Text,
  TextInput,
  Title,
} from '@mantine/core';
import { modals } from '@mantine/modals';
import { notifications } from '@mantine/notifications';
import {
  IconArchive,
  IconCopy,
  IconDots,
  IconDownload,
  IconPencil,
  IconPlus,
  IconTrash,
  IconUpload,
  IconUsers,
} from '@tabler/icons-react';
import type { ProjectCard } from '../../server/projects';
import { Mark } from '../../desk/Mark';
import { type ApiError, api } from '../../project/api';
import type { Here } from '../../project/who';
import { PersonMenu } from '../../desk/PersonMenu';
import { OpenFile } from './OpenFile';
import { MembersDialog } from '../people/MembersDialog';
import classes from './HomePage.module.css';

const tell = (error: unknown) => {
  const failure = error as ApiError;
  notifications.show({
    color: 'red',
    title: failure.message,
    message: failure.problems?.length
      ? failure.problems
          .slice(0, 4)
          .map((problem) => problem.message)
          .join('\n')
      : '',
    styles: { description: { whiteSpace: 'pre-line' } },
    autoClose: 12000,
  });
};

export function HomePage({ here }: { here: Here }) {
  const [projects, setProjects] = useState<ProjectCard[] | null>(null);
  const [failure, setFailure] = useState<string | null>(null);
  const [membersOf, setMembersOf] = useState<ProjectCard | null>(null);
  const [opening, setOpening] = useState<File | null>(null);
  const router = useRouter();
  const resetFile = useRef<() => void>(null);

  const refresh = useCallback(async () => {
    try {
      setProjects((await api<{ projects: ProjectCard[] }>('/projects')).projects);
      setFailure(null);
    } catch (error) {
      setFailure((error as Error).message);
    }
  }, []);
  useEffect(() => {
    // eslint-disable-next-line react-hooks/set-state-in-effect -- the list is fetched, and set when the answer is there
    void refresh();
  }, [refresh]);

  const act = async (work: () => Promise<unknown>) => {
    try {
      await work();
      await refresh();
    } catch (error) {
      tell(error);
    }
  };
  const create = () =>
    askName('New project', '', 'Create', (name) =>
      act(async () => {
        const { id } = await api<{ id: string }>('/projects', { method: 'POST', json: { name } });
        router.push(`/p/${id}`);
      }),
    );
  const importFile = (file: File | null) => {
    if (!file) return;
    resetFile.current?.();
    // Files of other formats are shown before anything is stored.
    if (!/\.json$/i.test(file.name)) return setOpening(file);
    void act(async () => {
      const { id } = await api<{ id: string }>('/projects/import', { method: 'POST', body: await file.text() });
      notifications.show({ message: `${file.name} is imported.`, color: 'verdigris' });
      router.prefetch(`/p/${id}`);
    });
  };
  const remove = (project: ProjectCard) =>
    act(async () => {
      await api(`/projects/${project.id}`, { method: 'DELETE' });
      const note = notifications.show({
        title: `${project.name} is deleted`,
        autoClose: 15000,
        message: (
          <Button
            size="compact-sm"
            variant="light"
            onClick={() => {
              notifications.hide(note);
              void act(() => api(`/projects/${project.id}/restore`, { method: 'POST' }));
            }}
          >
            Undo
          </Button>
        ),
      });
    });

  return (
    <main className={classes.page}>
      <header className={classes.head}>
        <Group gap="sm">
          <Mark size={30} />
          <Title order={1} size={26}>
            mesura
          </Title>
          <span style={{ flex: 1 }} />
          {!here.ownDesk && <PersonMenu here={here} />}
        </Group>
        <Text c="dimmed">
          Fault currents, grading and setting sheets: every number can be asked why, and every setting is tested.
        </Text>
      </header>
      <Group justify="space-between" mb="md">
        <Title order={2} size={17}>
          Projects
        </Title>
        <Group gap="xs">
          <FileButton onChange={importFile} resetRef={resetFile}>
            {(props) => (
              <Button {...props} variant="default" leftSection={<IconUpload size={15} />}>
                Import file
              </Button>
            )}
          </FileButton>
          <Button leftSection={<IconPlus size={15} />} onClick={create}>
            New project
          </Button>
        </Group>
      </Group>
      {failure && (
        <Alert color="red" title="The projects cannot be shown" mb="md">
          {failure}{' '}
          <Button size="compact-sm" variant="light" color="red" onClick={() => void refresh()}>
            Try again
          </Button>
        </Alert>
      )}
      <SimpleGrid cols={{ base: 1, sm: 2, md: 3 }}>
        {projects === null && !failure && [1, 2, 3].map((k) => <Skeleton key={k} height={150} />)}
        {projects?.map((project) => (
          <ProjectTile
            key={project.id}
            project={project}
            act={act}
            remove={remove}
            people={here.ownDesk ? null : () => setMembersOf(project)}
          />
        ))}
      </SimpleGrid>
      {projects?.length === 0 && (
        <Text c="dimmed">
          {here.ownDesk
            ? 'There is no project yet. Start with a new one, or import a file: of this program, CIM, or a solved power-flow case.'
            : 'You belong to no project yet. Start a new one, import a project file, or ask an administrator of a project to add you.'}
        </Text>
      )}
      <Text size="sm" c="dimmed" mt="xl">
        Studies and files are open to programs, too: <Anchor href="/programs">for programs</Anchor>.
      </Text>
      {opening && (
        <OpenFile file={opening} onClose={() => setOpening(null)} onOpened={(id) => router.push(`/p/${id}`)} />
      )}
      {membersOf && <MembersDialog project={membersOf} onClose={() => setMembersOf(null)} />}
    </main>
  );
}

function ProjectTile({
  project,
  act,
  remove,
  people,
}: {
  project: ProjectCard;
  act: (work: () => Promise<unknown>) => Promise<void>;
  remove: (project: ProjectCard) => Promise<void>;
  /** Null where nobody signs in. */
  people: (() => void) | null;
}) {
  const changed = new Date(project.updatedAt);
  return (
    <Card withBorder className={classes.tile} component="article" aria-label={project.name}>
      <Stack gap={6} h="100%">
        <Group justify="space-between" wrap="nowrap" align="flex-start">
          <Link href={`/p/${project.id}`} className={classes.name}>
            {project.name}
          </Link>
          <Menu position="bottom-end">
            <Menu.Target>
              <ActionIcon
                variant="subtle"
                color="gray"
                aria-label={`More for ${project.name}`}
                className={classes.more}
              >
                <IconDots size={16} />
              </ActionIcon>
            </Menu.Target>
            <Menu.Dropdown>
              <Menu.Item
                leftSection={<IconPencil size={14} />}
                onClick={() =>
                  askName('Rename project', project.name, 'Rename', (name) =>
                    act(() => api(`/projects/${project.id}`, { method: 'PATCH', json: { name } })),
                  )
                }
              >
                Rename
              </Menu.Item>
              <Menu.Item
                leftSection={<IconCopy size={14} />}
                onClick={() => void act(() => api(`/projects/${project.id}/duplicate`, { method: 'POST' }))}
              >
                Duplicate
              </Menu.Item>
              <Menu.Item
                leftSection={<IconDownload size={14} />}
                component="a"
                href={`/api/projects/${project.id}/file`}
              >
                Export file
              </Menu.Item>
              <Menu.Item
                leftSection={<IconArchive size={14} />}
                component="a"
                href={`/api/projects/${project.id}/archive`}
              >
                Export with history and sheets
              </Menu.Item>
              {people && (
                <Menu.Item leftSection={<IconUsers size={14} />} onClick={people}>
                  People and roles
                </Menu.Item>
              )}
              <Menu.Item leftSection={<IconTrash size={14} />} color="red" onClick={() => void remove(project)}>
                Delete
              </Menu.Item>
            </Menu.Dropdown>
          </Menu>
        </Group>
        <div style={{ flex: 1 }}>
          <Text size="sm" c="dimmed" lineClamp={3}>
            {project.notes || 'No notes.'}
          </Text>
        </div>
        <Text size="xs" c="dimmed" className="figure">
          {project.elements} elements · {project.sheets} sheets ·{' '}
          <time dateTime={project.updatedAt}>{changed.toISOString().slice(0, 16).replace('T', ' ')}</time>
        </Text>
      </Stack>
    </Card>
  );
}

function askName(title: string, initial: string, verb: string, then: (name: string) => void): void {
  const id = modals.open({
    title,
    children: (
      <form
        onSubmit={(event) => {
          event.preventDefault();
          const name = String(new FormData(event.currentTarget).get('name')).trim();
          if (!name) return;
          modals.close(id);
          then(name);
        }}
      >
        <TextInput name="name" label="Name" defaultValue={initial} maxLength={120} required data-autofocus />
        <Group justify="flex-end" mt="md">
          <Button variant="default" onClick={() => modals.close(id)}>
            Cancel
          </Button>
          <Button type="submit">{verb}</Button>
        </Group>
      </form>
    ),
  });
}
