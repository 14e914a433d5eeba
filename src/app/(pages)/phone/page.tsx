import { PhonePage } from '../../../ui/phone/PhonePage';

export const metadata = { title: 'Batucada phone' };
export default function Phone() {
  return <PhonePage />;
}
