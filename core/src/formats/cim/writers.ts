/** How each kind of element is written. */
import type { ElementKind, ElementOf } from '../../model/element';
import type { Writing } from './write';

export type Writers = { [K in ElementKind]?: (element: ElementOf<K>, writing: Writing) => void };
