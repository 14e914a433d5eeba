/** How an input is, for the interface. */
export type InputState =
  | { readonly kind: 'ready'; readonly seconds: number | null }
  | { readonly kind: 'loading' }
  | { readonly kind: 'waiting'; readonly why: string }
  | { readonly kind: 'trouble'; readonly why: string };
