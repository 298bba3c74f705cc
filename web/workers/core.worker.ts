// No code is made of texts here either (content security policy).
import { config } from 'zod';
import { expose } from 'comlink';
import { CoreService } from './coreService';

expose(new CoreService());
config({ jitless: true });
