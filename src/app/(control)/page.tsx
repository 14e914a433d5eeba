import { connection } from 'next/server';
import { App } from '../../ui/App';

export default async function ControlPage() {
  await connection(); // what the server was started with is read at each visit, not at the build
  return <App demo={process.env.BATUCADA_DEMO === '1'} />;
}
