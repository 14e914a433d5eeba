import { StreamPage } from '../../../../ui/overlays/StreamPage';

export default async function Stream({ params }: { readonly params: Promise<{ id: string }> }) {
  return <StreamPage id={(await params).id} />;
}
