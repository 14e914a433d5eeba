import { expect, it } from '@jest/globals';
import { clockText, sizeText } from './amounts';

it.each([
  [0, '0 kB'],
  [1499, '1 kB'],
  [999_400, '999 kB'],
  [1e6, '1.0 MB'],
  [20_940_000, '20.9 MB'],
])('says %d bytes as %s', (bytes, text) => {
  expect(sizeText(bytes)).toBe(text);
});
it.each([
  [0, '0:00'],
  [7.9, '0:07'],
  [59.99, '0:59'],
  [60, '1:00'],
  [3599, '59:59'],
  [3723, '1:02:03'],
])('says %d seconds as %s', (seconds, text) => {
  expect(clockText(seconds)).toBe(text);
});
