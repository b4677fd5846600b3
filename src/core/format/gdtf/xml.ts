import { XMLParser, XMLValidator } from 'fast-xml-parser';
import type { Say } from '../zip.ts';

const DECLARED = /^[\s\ufeff]*<\?xml[^>]*?\bencoding\s*=\s*["']([A-Za-z0-9._-]{1,40})["']/;

/**
 * The text of an XML file in the encoding it says: UTF-8 where it says nothing, UTF-16 by its byte order mark, or what
 * its declaration names. Says XML_ENCODING and gives null for one that is not known, or bytes that are not in it.
 */
export function decodeXml(bytes: Uint8Array, file: string, say: Say): string | null {
  const [a, b, c] = bytes;
  const beginning = String.fromCharCode(...bytes.subarray(0, 200).filter((byte) => byte !== 0));
  // Without a mark, UTF-16 shows in the zero beside the first `<` (XML 1.0, appendix F).
  const mark = a === 0xff && b === 0xfe ? 'utf-16le' : a === 0xfe && b === 0xff ? 'utf-16be' : null;
  const wide = mark ?? (a === 0x3c && b === 0 ? 'utf-16le' : a === 0 && b === 0x3c ? 'utf-16be' : null);
  const named = a === 0xef && b === 0xbb && c === 0xbf ? 'utf-8' : (DECLARED.exec(beginning)?.[1] ?? 'utf-8');
  const encoding = wide ?? named;
  let decoder: TextDecoder;
  try {
    decoder = new TextDecoder(encoding, { fatal: true });
  } catch {
    say('XML_ENCODING', file, `its encoding ${encoding} is not known`, encoding, 'Save it as UTF-8.');
    return null;
  }
  try {
    return decoder.decode(bytes);
  } catch {
    say('XML_ENCODING', file, `it says it is ${encoding}, and has bytes that are not`, encoding, 'Save it as UTF-8.');
    return null;
  }
}

/** An element: its attributes as text, its children as lists by name. */
export interface Element {
  readonly attributes: Readonly<Record<string, string>>;
  readonly children: Readonly<Record<string, readonly Element[]>>;
}

const EMPTY: Element = { attributes: {}, children: {} };
const DEEPEST = 40;

/**
 * Reads XML without document types, so that no entity can be expanded. Says XML_DOCTYPE, XML_BROKEN (with line and
 * column) or XML_DEEP and gives null.
 */
export function readXml(text: string, file: string, say: Say): Element | null {
  if (/<!\s*(doctype|entity)/i.test(text)) {
    say('XML_DOCTYPE', file, 'has a document type, which GDTF does not know', '<!DOCTYPE', 'Remove it and try again.');
    return null;
  }
  try {
    const valid = XMLValidator.validate(text);
    if (valid !== true) {
      const { line, col, msg } = valid.err;
      say('XML_BROKEN', `${file} line ${line}, column ${col}`, msg, line, 'Mend the XML there, or get the file again.');
      return null;
    }
    const parser = new XMLParser({
      ignoreAttributes: false,
      attributeNamePrefix: '',
      attributesGroupName: '@',
      parseAttributeValue: false,
      parseTagValue: false,
      isArray: (_name, _path, _leaf, isAttribute) => !isAttribute,
      processEntities: true,
      ignoreDeclaration: true,
      ignorePiTags: true,
    });
    const root = toElement(parser.parse(text) as unknown, 0);
    if (root) return root;
    say(
      'XML_DEEP',
      file,
      `elements stand more than ${DEEPEST} deep in each other`,
      DEEPEST,
      'This is no fixture description.',
    );
  } catch (error) {
    say(
      'XML_BROKEN',
      file,
      `cannot be read: ${(error as Error).message.slice(0, 120)}`,
      text.length,
      'Get the file again.',
    );
  }
  return null;
}

function toElement(value: unknown, depth: number): Element | null {
  if (depth > DEEPEST) return null;
  if (typeof value !== 'object' || value === null) return EMPTY;
  const attributes: Record<string, string> = {};
  const children: Record<string, Element[]> = {};
  for (const [key, part] of Object.entries(value)) {
    if (key === '@') {
      // The parser gives attributes as an object, or as a list of one.
      const group = (Array.isArray(part) ? part[0] : part) as Record<string, unknown>;
      for (const [name, text] of Object.entries(group)) attributes[name] = decoded(String(text));
    } else if (Array.isArray(part)) {
      const list: Element[] = [];
      for (const item of part) {
        const child = toElement(item, depth + 1);
        if (!child) return null;
        list.push(child);
      }
      children[key] = list;
    }
  }
  return { attributes, children };
}

/** Numeric character references; the five named ones are the parser's. */
const decoded = (text: string): string =>
  text.replace(/&#(x?)([0-9a-f]{1,6});/gi, (whole, hex: string, digits: string) => {
    const code = Number.parseInt(digits, hex ? 16 : 10);
    return code <= 0x10ffff && !(code >= 0xd800 && code <= 0xdfff) ? String.fromCodePoint(code) : whole;
  });

export const childrenOf = (element: Element | undefined, name: string): readonly Element[] =>
  element && Object.hasOwn(element.children, name) ? element.children[name]! : [];
export const childOf = (element: Element | undefined, name: string): Element | undefined =>
  childrenOf(element, name)[0];
export const textOf = (element: Element | undefined, name: string): string =>
  element && Object.hasOwn(element.attributes, name) ? element.attributes[name]! : '';
/** A finite number, or null. */
export function numberOf(element: Element | undefined, name: string): number | null {
  const text = textOf(element, name).trim();
  const value = text === '' ? NaN : Number(text);
  return Number.isFinite(value) ? value : null;
}

/** Every element below one, itself included, that stands for a part of the fixture. */
export function* parts(element: Element | undefined): Generator<readonly [kind: string, Element]> {
  for (const [kind, list] of Object.entries(element?.children ?? {}))
    for (const child of list) {
      yield [kind, child];
      yield* parts(child);
    }
}
