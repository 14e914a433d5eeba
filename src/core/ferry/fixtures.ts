import { readDescription, type ReadKinds } from '../gdtf';

/** Definitions of the ferry's own lamps (GDTF), as they ship beside the demo. The demo's rig is read from these. */

const WHITE = '0.3127,0.3290,100';
/** Name, CIE x and y. */
const COLOURS = [
  ['Open', WHITE],
  ['Red', '0.6400,0.3300,21.3'],
  ['Amber', '0.5300,0.4300,48.0'],
  ['Yellow', '0.4500,0.4900,80.0'],
  ['Green', '0.3000,0.6000,71.5'],
  ['Cyan', '0.2300,0.3300,60.0'],
  ['Blue', '0.1500,0.0600,7.2'],
  ['Magenta', '0.3500,0.1700,28.0'],
] as const;
const GOBOS = ['Open', 'Dots', 'Bars', 'Ring', 'Cone', 'Star'] as const;

const channel = (offset: string, geometry: string, attribute: string, functions: string): string =>
  `<DMXChannel DMXBreak="1" Offset="${offset}" Geometry="${geometry}" Highlight="None"><LogicalChannel Attribute="${attribute}" Snap="No" Master="None" MibFade="0" DMXChangeTimeLimit="0">${functions}</LogicalChannel></DMXChannel>`;
const whole = (attribute: string, from: number, to: number, at: string, more = ''): string =>
  `<ChannelFunction Name="${attribute}" Attribute="${attribute}" DMXFrom="0/1" Default="${at}" PhysicalFrom="${from}" PhysicalTo="${to}"${more}/>`;
const wheel = (attribute: string, name: string, count: number, step: number): string =>
  `<ChannelFunction Name="${name}" Attribute="${attribute}" DMXFrom="0/1" Default="0/1" PhysicalFrom="0" PhysicalTo="1" Wheel="${name}">${Array.from(
    { length: count },
    (_, i) => `<ChannelSet Name="${i + 1}" DMXFrom="${i * step}/1" WheelSlotIndex="${i + 1}"/>`,
  ).join('')}</ChannelFunction>`;
const attributes = (names: readonly string[]): string =>
  `<AttributeDefinitions><ActivationGroups/><FeatureGroups><FeatureGroup Name="All" Pretty="All"><Feature Name="All"/></FeatureGroup></FeatureGroups><Attributes>${names
    .map((n) => `<Attribute Name="${n}" Pretty="${n}" Feature="All.All"/>`)
    .join('')}</Attributes></AttributeDefinitions>`;
const fixture = (name: string, id: string, inside: string): string =>
  `<?xml version="1.0" encoding="UTF-8"?>\n<GDTF DataVersion="1.2"><FixtureType Name="${name}" ShortName="${name}" LongName="${name}" Manufacturer="Night Ferry" Description="" FixtureTypeID="${id}" Thumbnail="" RefFT="" CanHaveChildren="No">${inside}</FixtureType></GDTF>\n`;
const AT = 'Position="{1,0,0,0}{0,1,0,0}{0,0,1,0}{0,0,0,1}"';

const HEAD = fixture(
  'Mast Head',
  '5C7D2F50-1B3A-4D0E-8A66-0C1F2E3D4A01',
  `${attributes(['Pan', 'Tilt', 'Dimmer', 'Shutter1', 'Shutter1Strobe', 'Color1', 'Gobo1', 'Zoom', 'Focus1'])}<Wheels><Wheel Name="Colours">${COLOURS.map(([n, c]) => `<Slot Name="${n}" Color="${c}"/>`).join('')}</Wheel><Wheel Name="Gobos">${GOBOS.map((n) => `<Slot Name="${n}" Color="${WHITE}"/>`).join('')}</Wheel></Wheels><PhysicalDescriptions/><Models/><Geometries><Geometry Name="Base" Model="" ${AT}><Axis Name="Yoke" Model="" ${AT}><Axis Name="Head" Model="" ${AT}><Beam Name="Beam" Model="" ${AT} LampType="LED" BeamAngle="14" FieldAngle="18"/></Axis></Axis></Geometry></Geometries><DMXModes><DMXMode Name="Deck" Geometry="Base"><DMXChannels>${[
    channel('1,2', 'Yoke', 'Pan', whole('Pan', -270, 270, '32768/2')),
    channel('3,4', 'Head', 'Tilt', whole('Tilt', -135, 135, '32768/2')),
    channel('5,6', 'Beam', 'Dimmer', whole('Dimmer', 0, 1, '0/2')),
    channel(
      '7',
      'Beam',
      'Shutter1',
      '<ChannelFunction Name="Shutter" Attribute="Shutter1" DMXFrom="0/1" Default="32/1" PhysicalFrom="0" PhysicalTo="1"><ChannelSet Name="Closed" DMXFrom="0/1"/><ChannelSet Name="Open" DMXFrom="32/1"/></ChannelFunction><ChannelFunction Name="Strobe" Attribute="Shutter1Strobe" DMXFrom="64/1" Default="64/1" PhysicalFrom="1" PhysicalTo="20"/><ChannelFunction Name="Open again" Attribute="Shutter1" DMXFrom="224/1" Default="224/1" PhysicalFrom="1" PhysicalTo="1"><ChannelSet Name="Open" DMXFrom="224/1"/></ChannelFunction>',
    ),
    channel('8', 'Beam', 'Color1', wheel('Color1', 'Colours', COLOURS.length, 16)),
    channel('9', 'Beam', 'Gobo1', wheel('Gobo1', 'Gobos', GOBOS.length, 20)),
    channel('10', 'Beam', 'Zoom', whole('Zoom', 5, 45, '64/1')),
    channel('11', 'Beam', 'Focus1', whole('Focus1', 0, 1, '128/1')),
  ].join('')}</DMXChannels></DMXMode></DMXModes>`,
);

const BAR_CELLS = 40;
const BAR = fixture(
  'Rail Bar 40',
  '5C7D2F50-1B3A-4D0E-8A66-0C1F2E3D4A02',
  `${attributes(['ColorAdd_R', 'ColorAdd_G', 'ColorAdd_B'])}<Wheels/><PhysicalDescriptions><Emitters><Emitter Name="Red" Color="0.6400,0.3300,21.3"/><Emitter Name="Green" Color="0.3000,0.6000,71.5"/><Emitter Name="Blue" Color="0.1500,0.0600,7.2"/></Emitters></PhysicalDescriptions><Models/><Geometries><Geometry Name="Bar" Model="" ${AT}>${Array.from(
    { length: BAR_CELLS },
    (_, i) =>
      `<GeometryReference Name="Cell ${i + 1}" Geometry="Cell" Model="" Position="{1,0,0,${((i - (BAR_CELLS - 1) / 2) * 0.25).toFixed(3)}}{0,1,0,0}{0,0,1,0}{0,0,0,1}"><Break DMXOffset="${3 * i + 1}" DMXBreak="1"/></GeometryReference>`,
  ).join(
    '',
  )}</Geometry><Beam Name="Cell" Model="" ${AT} LampType="LED" BeamAngle="60" FieldAngle="90"/></Geometries><DMXModes><DMXMode Name="Cells" Geometry="Bar"><DMXChannels>${[
    channel('1', 'Cell', 'ColorAdd_R', whole('ColorAdd_R', 0, 1, '0/1', ' Emitter="Red"')),
    channel('2', 'Cell', 'ColorAdd_G', whole('ColorAdd_G', 0, 1, '0/1', ' Emitter="Green"')),
    channel('3', 'Cell', 'ColorAdd_B', whole('ColorAdd_B', 0, 1, '0/1', ' Emitter="Blue"')),
  ].join('')}</DMXChannels></DMXMode></DMXModes>`,
);

const HAZE = fixture(
  'Deck Haze',
  '5C7D2F50-1B3A-4D0E-8A66-0C1F2E3D4A03',
  `${attributes(['Haze1', 'Fans'])}<Wheels/><PhysicalDescriptions/><Models/><Geometries><Geometry Name="Base" Model="" ${AT}/></Geometries><DMXModes><DMXMode Name="Deck" Geometry="Base"><DMXChannels>${[
    channel('1', 'Base', 'Haze1', whole('Haze1', 0, 1, '0/1')),
    channel('2', 'Base', 'Fans', whole('Fans', 0, 1, '0/1')),
  ].join('')}</DMXChannels></DMXMode></DMXModes>`,
);

/** The definitions by the names of their files, without the ending. */
export const FERRY_DEFINITIONS: Readonly<Record<'mast-head' | 'rail-bar' | 'deck-haze', string>> = {
  'mast-head': HEAD,
  'rail-bar': BAR,
  'deck-haze': HAZE,
};

let known: readonly ReadKinds[] | null = null;
/** The kinds that the demo's rig is made of: head, bar, haze. Read once. */
export function ferryKinds(): readonly ReadKinds['kinds'][number][] {
  known ??= Object.values(FERRY_DEFINITIONS).map(readDescription);
  return known.map((r) => r.kinds[0]!);
}
