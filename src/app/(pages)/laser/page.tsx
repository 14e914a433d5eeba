import { LaserPage } from '../../../ui/rig/laser/LaserPage';

export const metadata = { title: 'Batucada laser' };
export default function Laser() {
  return <LaserPage />;
}
