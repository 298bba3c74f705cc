import { ProgramsPage } from '../../features/programs/ProgramsPage';
import { openApi } from '../../server/programs/openapi';

export const dynamic = 'force-dynamic';
export const metadata = { title: 'For programs' };

/** The description for programs, as people read it. It tells nothing of projects and needs no account. */
export default function Page() {
  return <ProgramsPage description={openApi() as never} />;
}
