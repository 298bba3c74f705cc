'use client';

import { useEffect, useRef, type PointerEvent } from 'react';
import { useReactFlow, useStoreApi } from '@xyflow/react';
import { paintMap } from '../picture/paint';
import type { Painting } from '../picture/strokes';
import classes from '../diagram.module.css';

const size = { width: 168, height: 112 };

/** The whole page in small, with the part in view; a click or a drag there goes there. */
export function OverviewMap({ painting }: { painting: Painting }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const scale = useRef({ zoom: 1, x: 0, y: 0 });
  const store = useStoreApi();
  const flow = useReactFlow();
  useEffect(() => {
    const whole = painting.scene.bounds;
    const at = canvas.current?.getContext('2d');
    if (!at || !whole) return;
    const room = 0.04 * Math.max(whole.width, whole.height);
    const bounds = {
      x: whole.x - room,
      y: whole.y - room,
      width: whole.width + 2 * room,
      height: whole.height + 2 * room,
    };
    const ratio = window.devicePixelRatio || 1;
    // The picture of the whole is painted once; a pan only moves the frame over it.
    const kept = document.createElement('canvas');
    for (const each of [canvas.current!, kept]) [each.width, each.height] = [size.width * ratio, size.height * ratio];
    const none = { x: 0, y: 0, width: 0, height: 0 };
    scale.current = paintMap(kept.getContext('2d')!, painting, bounds, size.width, size.height, none, ratio);
    let frame = 0;
    const draw = () => {
      frame = 0;
      const { transform, width, height } = store.getState();
      const [x, y, zoom] = transform;
      const map = scale.current;
      // Where all of it is in view there is nothing to look over.
      const view = { x: -x / zoom, y: -y / zoom, right: (width - x) / zoom, bottom: (height - y) / zoom };
      const all =
        view.x <= whole.x &&
        view.y <= whole.y &&
        view.right >= whole.x + whole.width &&
        view.bottom >= whole.y + whole.height;
      canvas.current!.style.visibility = all ? 'hidden' : 'visible';
      if (all) return;
      at.setTransform(1, 0, 0, 1, 0, 0);
      at.drawImage(kept, 0, 0);
      const left = (-x / zoom - map.x) * map.zoom * ratio;
      const top = (-y / zoom - map.y) * map.zoom * ratio;
      at.strokeStyle = painting.pens.palette.accent;
      at.lineWidth = 1.5 * ratio;
      at.strokeRect(left, top, (width / zoom) * map.zoom * ratio, (height / zoom) * map.zoom * ratio);
    };
    const ask = () => {
      frame ||= requestAnimationFrame(draw);
    };
    ask();
    const stop = store.subscribe(ask);
    return () => {
      stop();
      cancelAnimationFrame(frame);
    };
  }, [painting, store]);
  const go = (event: PointerEvent) => {
    if (event.buttons !== 1) return;
    const box = canvas.current!.getBoundingClientRect();
    const { zoom, x, y } = scale.current;
    void flow.setCenter(x + (event.clientX - box.left) / zoom, y + (event.clientY - box.top) / zoom, {
      zoom: flow.getZoom(),
      duration: 0,
    });
  };
  return (
    <canvas
      ref={canvas}
      className={classes.map}
      style={size}
      role="img"
      aria-label="Overview of the page"
      onPointerDown={go}
      onPointerMove={go}
    />
  );
}
