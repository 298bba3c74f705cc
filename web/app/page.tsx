import { HomePage } from '../features/home/HomePage';
import { hereOf, pagePerson } from '../server/people/page';

export default async function Page() {
  return <HomePage here={hereOf(await pagePerson('/'))} />;
}
