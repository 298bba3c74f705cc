'use client';

import { Button, Menu } from '@mantine/core';
import { IconPhotoDown } from '@tabler/icons-react';
import { svgOf } from '../plots/svg';
import type { Scene } from '../plots/scene';
import { saveDxf } from './saveDxf';
import { savePng } from './savePng';
import { saveText } from './saveText';

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
        <Menu.Item onClick={() => saveText(`${name}.svg`, svgOf(scene), 'image/svg+xml')}>SVG</Menu.Item>
        <Menu.Item onClick={() => void savePng(`${name}.png`, svgOf(scene), scene.paper)}>PNG</Menu.Item>
        <Menu.Item onClick={() => void saveDxf(name, scene)}>DXF</Menu.Item>
      </Menu.Dropdown>
    </Menu>
  );
}
