import { bad, good, type Result } from '../faults.ts';
import { textUntilZero } from './sacn.ts';

/** What a device says in DEVICE_INFO (ANSI E1.20 10.5.1). */
export interface RdmDeviceInfo {
  readonly model: number;
  readonly category: number;
  readonly software: number;
  /** Slots in the present personality; 0 where it takes none. */
  readonly footprint: number;
  /** 1 to `personalities`. */
  readonly personality: number;
  readonly personalities: number;
  /** 1-512; 65535 where it takes no slots. */
  readonly startAddress: number;
  readonly subDevices: number;
  readonly sensors: number;
}

const DEVICE_INFO_LENGTH = 19;
const short = (what: string, length: number): Result<never> =>
  bad({
    code: 'RDM_DATA',
    path: 'rdm',
    message: `${what} of ${length} bytes`,
    received: length,
    remedy: 'The device answers wrongly; look for newer firmware.',
  });

const viewOf = (data: Uint8Array): DataView => new DataView(data.buffer, data.byteOffset, data.byteLength);

export function decodeDeviceInfo(data: Uint8Array): Result<RdmDeviceInfo> {
  if (data.length < DEVICE_INFO_LENGTH) return short('a device info', data.length);
  const view = viewOf(data);
  return good({
    model: view.getUint16(2),
    category: view.getUint16(4),
    software: view.getUint32(6),
    footprint: view.getUint16(10),
    personality: data[12]!,
    personalities: data[13]!,
    startAddress: view.getUint16(14),
    subDevices: view.getUint16(16),
    sensors: data[18]!,
  });
}

export function encodeDeviceInfo(info: RdmDeviceInfo): Uint8Array {
  const data = new Uint8Array(DEVICE_INFO_LENGTH);
  const view = viewOf(data);
  view.setUint16(0, 0x0100);
  view.setUint16(2, info.model);
  view.setUint16(4, info.category);
  view.setUint32(6, info.software);
  view.setUint16(10, info.footprint);
  data[12] = info.personality;
  data[13] = info.personalities;
  view.setUint16(14, info.startAddress);
  view.setUint16(16, info.subDevices);
  data[18] = info.sensors;
  return data;
}

export interface RdmPersonality {
  readonly number: number;
  readonly footprint: number;
  readonly name: string;
}

/** DMX_PERSONALITY_DESCRIPTION (10.6.3). */
export function decodePersonality(data: Uint8Array): Result<RdmPersonality> {
  if (data.length < 3) return short('a personality', data.length);
  return good({ number: data[0]!, footprint: viewOf(data).getUint16(1), name: decodeLabel(data.subarray(3)) });
}
export function encodePersonality({ number, footprint, name }: RdmPersonality): Uint8Array {
  return Uint8Array.of(number, footprint >> 8, footprint & 255, ...encodeLabel(name));
}

/** Kinds of sensors (Table A-12) we name. */
const SENSOR_WORDS: Readonly<Record<number, string>> = {
  0: 'Temperature',
  1: 'Voltage',
  2: 'Current',
  3: 'Frequency',
  5: 'Power',
  0x0b: 'Humidity',
  0x13: 'Speed',
  0x1a: 'Brightness',
};
const SENSOR_UNITS: Readonly<Record<number, string>> = {
  1: '°C',
  2: 'V',
  5: 'A',
  8: 'Hz',
  10: 'W',
  18: 'lx',
};
/** Exponents of ten by prefix code (Table A-14). */
const PREFIX: Readonly<Record<number, number>> = {
  0: 0,
  1: -1,
  2: -2,
  3: -3,
  4: -6,
  0x11: 1,
  0x12: 2,
  0x13: 3,
  0x14: 6,
};

export interface RdmSensorDefinition {
  readonly number: number;
  readonly type: number;
  readonly unit: number;
  readonly prefix: number;
  readonly name: string;
}
export interface RdmSensor {
  readonly number: number;
  readonly name: string;
  readonly value: number;
  readonly unit: string;
}

/** SENSOR_DEFINITION (10.7.1). */
export function decodeSensorDefinition(data: Uint8Array): Result<RdmSensorDefinition> {
  if (data.length < 13) return short('a sensor definition', data.length);
  const type = data[1]!;
  const name = decodeLabel(data.subarray(13)) || (SENSOR_WORDS[type] ?? `Sensor ${data[0]! + 1}`);
  return good({ number: data[0]!, type, unit: data[2]!, prefix: data[3]!, name });
}
export function encodeSensorDefinition({ number, type, unit, prefix, name }: RdmSensorDefinition): Uint8Array {
  return Uint8Array.of(number, type, unit, prefix, 0x80, 0, 0x7f, 0xff, 0x80, 0, 0x7f, 0xff, 0, ...encodeLabel(name));
}

/** SENSOR_VALUE (10.7.2) in the unit its definition names. */
export function decodeSensorValue(data: Uint8Array, definition: RdmSensorDefinition): Result<RdmSensor> {
  if (data.length < 3) return short('a sensor value', data.length);
  const exponent = PREFIX[definition.prefix] ?? 0;
  const value = Number((viewOf(data).getInt16(1) * 10 ** exponent).toPrecision(6));
  return good({ number: data[0]!, name: definition.name, value, unit: SENSOR_UNITS[definition.unit] ?? '' });
}
export function encodeSensorValue(number: number, raw: number): Uint8Array {
  const data = new Uint8Array(9);
  data[0] = number;
  viewOf(data).setInt16(1, raw);
  return data;
}

/** Texts in RDM: up to 32 ASCII characters without an end mark; control characters are left out. */
export const decodeLabel = (data: Uint8Array): string => textUntilZero(data.subarray(0, 32)).trim();
export const encodeLabel = (text: string): Uint8Array =>
  Uint8Array.from([...text].map((c) => c.charCodeAt(0)).filter((c) => c >= 32 && c < 127)).slice(0, 32);

export const uint16 = (value: number): Uint8Array => Uint8Array.of((value >> 8) & 255, value & 255);
