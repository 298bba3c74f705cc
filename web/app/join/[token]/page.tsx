import { Join } from '../../../features/people/Join';
import { invitationFor } from '../../../server/people/accounts';
import { ServiceError } from '../../../server/errors';
import { passwordLength } from '../../../server/people/limits';

export const dynamic = 'force-dynamic';

export default async function Page({ params }: { params: Promise<{ token: string }> }) {
  const { token } = await params;
  return <Join token={token} invited={await invitedBy(token)} least={passwordLength.least} />;
}

async function invitedBy(token: string): Promise<{ name: string; fullName: string } | null> {
  try {
    return await invitationFor(token);
  } catch (error) {
    if (error instanceof ServiceError && error.status === 404) return null;
    throw error;
  }
}
