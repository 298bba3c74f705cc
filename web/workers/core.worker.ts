import { expose } from 'comlink';
import { CoreService } from './coreService';

expose(new CoreService());
