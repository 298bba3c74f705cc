'use client';

import { Button, Menu } from '@mantine/core';
import { notifications } from '@mantine/notifications';
import { IconPhotoDown } from '@tabler/icons-react';
import { svgOf } from '../plots/svg';
import type { Scene } from '../plots/scene';
import { useProject } from '../project/ProjectContext';
import { saveReport } from '../project/reports';
import { saveDxf } from './saveDxf';
import { savePng } from './savePng';
import { saveText } from './saveText';
import bench from './bench.module.css';

/** The forms of a plot as a file, as lines of a menu. */
export function PictureItems({ name, scene }: { name: string; scene: Scene }) {
  const project = useProject((state) => state.id);
  const print = () =>
    saveReport(project, { study: 'plot', format: 'pdf', title: name.slice(0, 200), scene }).catch((error: Error) =>
      notifications.show({ message: error.message, color: 'red' }),
    );
  return (
    <>
      <Menu.Item onClick={() => saveText(`${name}.svg`, svgOf(scene), 'image/svg+xml')}>SVG</Menu.Item>
      <Menu.Item onClick={() => void savePng(`${name}.png`, svgOf(scene), scene.paper)}>PNG</Menu.Item>
      <Menu.Item onClick={() => void print()}>PDF</Menu.Item>
      <Menu.Item onClick={() => void saveDxf(name, scene)}>DXF</Menu.Item>
    </>
  );
}

/** A plot as a file to put into a document or to print. */
export function PictureMenu({ name, scene }: { name: string; scene: Scene }) {
  return (
    <Menu withinPortal position="bottom-end">
      <Menu.Target>
        <Button size="compact-xs" variant="default" leftSection={<IconPhotoDown size={13} />}>
          Picture
        </Button>
      </Menu.Target>
      <Menu.Dropdown>
        <PictureItems name={name} scene={scene} />
      </Menu.Dropdown>
    </Menu>
  );
}

/** The menu below a plot that has no line of controls. */
export function PictureLine({ name, scene }: { name: string; scene: Scene }) {
  return (
    <div className={bench.pictureLine}>
      <PictureMenu name={name} scene={scene} />
    </div>
  );
}
