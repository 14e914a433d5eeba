/** The resting picture, as it was drawn once: `npm run screenshots` makes it anew. */
export const OPENING_STILL = '/opening.webp';
