import { OverlayPage } from '../../../../ui/overlays/OverlayPage';

export default async function Overlay({ params }: { readonly params: Promise<{ id: string }> }) {
  return <OverlayPage id={(await params).id} />;
}
