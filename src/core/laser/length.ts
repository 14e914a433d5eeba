/** How long a way is. `Math.hypot` guards against numbers that a field never has, and takes many times as long. */
export const length = (dx: number, dy: number): number => Math.sqrt(dx * dx + dy * dy);
