import { HomePage } from '../features/home/HomePage';

export default function Page() {
  return <HomePage />;
}
