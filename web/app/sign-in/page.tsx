import { redirect } from 'next/navigation';
import { SignIn } from '../../features/people/SignIn';
import { hasAdministrator } from '../../server/people/accounts';
import { modeOf } from '../../server/people/mode';

export const dynamic = 'force-dynamic';

export default async function Page({ searchParams }: { searchParams: Promise<{ to?: string }> }) {
  if (modeOf() === 'ownDesk') redirect('/');
  const { to } = await searchParams;
  return <SignIn to={insideOnly(to)} isFirst={!(await hasAdministrator())} />;
}

/** Back to a page of this desk, and nowhere else. */
const insideOnly = (to: unknown): string =>
  typeof to === 'string' && /^\/[A-Za-z0-9/?=&_-]*$/.test(to) && !to.startsWith('//') ? to : '/';
