/** Addresses of the bridge as a page elsewhere has them: on the machine that the page came from, with the key that it came with. Window. */
const key = (): string => {
  const given = new URLSearchParams(location.search).get('key');
  return given ? `key=${encodeURIComponent(given)}` : '';
};

/** Of what a page is drawn from. */
export const pageAddress = (page: string): string =>
  `${location.protocol === 'https:' ? 'wss' : 'ws'}://${location.host}/bridge?role=page&page=${encodeURIComponent(page)}&${key()}`;

/** Of a file that a page is made of. */
export const mediaAddress = (hash: string): string => `/media/${hash}?${key()}`;
