import { expose } from 'comlink';
import { layered } from './layout';

expose({ layered });
