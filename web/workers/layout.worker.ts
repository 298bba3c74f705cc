// No code is made of texts here either (content security policy).
import { config } from 'zod';
import { expose } from 'comlink';
import { layered } from '@mesura/core/drawing/order/layered';

expose({ layered });
config({ jitless: true });
