/** Writes a project file of a made-up network: `tsx scripts/mesh.ts BUSES FILE`. */
import { writeFileSync } from 'node:fs';
import { writeProject } from '../core/src/formats/project/project';
import { bigNetwork } from './bigNetwork';

const [buses, file] = process.argv.slice(2);
if (!file) throw new Error('Give the number of buses and the file to write.');
writeFileSync(file, writeProject({ name: `Mesh of ${buses} buses`, notes: '', elements: bigNetwork(Number(buses)) }));
