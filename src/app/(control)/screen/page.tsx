import { ScreenWindow } from '../../../ui/picture/ScreenWindow';

export const metadata = { title: 'Batucada screen' };
export default function ScreenPage() {
  return <ScreenWindow />;
}
