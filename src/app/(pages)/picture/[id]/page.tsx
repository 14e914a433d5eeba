import { ScreenWindow } from '../../../../ui/picture/ScreenWindow';

export const metadata = { title: 'Batucada screen' };
export default async function PictureElsewhere({ params }: { readonly params: Promise<{ id: string }> }) {
  return <ScreenWindow elsewhere={(await params).id} />;
}
