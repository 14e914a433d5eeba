import { describe, expect, it } from '@jest/globals';
import {
  packMedia,
  pageOfTopic,
  pageTopic,
  parseHouse,
  parseRelay,
  readBrokerSetting,
  signalTopic,
  unpackMedia,
  USUAL_BROKER,
} from './topics';

describe('topics', () => {
  it('of pages are read back as they were written, whatever the page is called', () => {
    for (const page of ['picture', 'overlay/frame', 'overlay/a/b'])
      for (const part of ['document', 'values', 'events'] as const)
        expect(pageOfTopic('house', pageTopic('house', page, part))).toEqual({ page, part });
    for (const other of [
      'batucada/house/state',
      'batucada/other/page/picture/values',
      'batucada/house/page/picture/more',
    ])
      expect(pageOfTopic('house', other)).toBeNull();
  });
  it('of signals have in them nothing that a topic may not', () => {
    expect(signalTopic('h', 'Deck · level')).toBe('batucada/h/signal/Deck · level');
    expect(signalTopic('h', 'a/b #1 +')).toBe('batucada/h/signal/a-b -1 -');
    expect(signalTopic('h', '  ')).toBe('batucada/h/signal/signal');
  });
  it('a file is packed with its type', () => {
    const bytes = Uint8Array.from([0, 1, 255]);
    expect(unpackMedia(packMedia('image/png', bytes))).toEqual({ type: 'image/png', bytes });
    expect(unpackMedia(new Uint8Array(0))).toBeNull();
    expect(unpackMedia(Uint8Array.from([9, 1]))).toBeNull();
  });
  it('what makes no sense is nothing, and a setting from elsewhere the usual one', () => {
    const house = { protocol: 1, live: true, all: ['picture'], key: 'x'.repeat(12) };
    expect(parseHouse(JSON.stringify(house))).toEqual(house);
    for (const bad of ['', '{}', 'null', JSON.stringify({ ...house, key: '' })])
      expect(parseHouse(bad)).toBeNull();
    const relay = { name: 'hill', at: 'http://hill:4900', pages: { picture: 2 } };
    expect(parseRelay(JSON.stringify(relay))).toEqual(relay);
    expect(parseRelay(JSON.stringify({ ...relay, at: 'javascript:alert(1)' }))).toBeNull();
    expect(readBrokerSetting({ address: 'http://x', lamps: true, signals: [] })).toEqual(USUAL_BROKER);
    const set = { address: 'mqtts://u:p@b:8883', lamps: true, signals: [{ id: 'a', name: 'A' }] };
    expect(readBrokerSetting(set)).toEqual(set);
  });
});
