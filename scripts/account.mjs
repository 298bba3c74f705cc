/** `npm run account -- …`: accounts from the terminal of the machine itself, such as the first administrator. Run without more it says what it can do. */
import { guarded } from './lib/system.mjs';
import { withDatabase } from './lib/withDatabase.mjs';

guarded(() => withDatabase('accounts.ts', process.argv.slice(2)));
