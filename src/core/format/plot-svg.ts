import { getRecord, recordsOf, type Document } from '../document/change.ts';
import { formatAddress } from '../patch/address.ts';
import { layoutOfUnit, patchOf, placeOf } from '../patch/of-document.ts';
import { roomOf } from '../plot/room-of.ts';
import { outlineOf } from '../room/outline.ts';
import { bodyOf, type Body } from '../plot/body.ts';
import { lengthText } from '../plot/lengths.ts';
import { bounds, PAPER_AXES, toPaper, type Point } from '../plot/paper.ts';
import { symbolPath } from '../plot/symbols.ts';
import type { FixtureKind } from '../records/profile.ts';
import type { BlobHash } from '../records/blob.ts';
import type { PlotSide } from '../records/picture.ts';

/** Sheets in millimetres, lying. */
export const PAPER_SIZES = { A4: [297, 210], A3: [420, 297], A2: [594, 420] } as const;
export type PaperSize = keyof typeof PAPER_SIZES;

export interface PlotPrint {
  readonly side: PlotSide;
  readonly sheet: PaperSize;
  /** 1 : n; null for the largest that fits. */
  readonly scale: number | null;
  readonly labels: readonly ('number' | 'name' | 'address')[];
  /** Pictures that lie under it, as data addresses by their hash: a page of SVG stands alone. */
  readonly pictures: ReadonlyMap<BlobHash, string>;
  readonly areas: boolean;
  /** Written in the title block. */
  readonly date: string;
  /** The typeface, as a data address: without it the reader's own is taken. */
  readonly font?: string;
}

/** Scales that a rule is made for. */
export const SCALES = [10, 20, 25, 50, 75, 100, 125, 150, 200, 250, 300, 400, 500, 750, 1000, 1500, 2000] as const;
const MARGIN_MM = 8;
const TITLE_MM = 62;
const SIDE_WORDS: Readonly<Record<PlotSide, string>> = {
  plan: 'Plan, seen from above',
  front: 'Elevation from the audience',
  side: 'Elevation from stage left',
};
const escape = (text: string): string => text.replace(/[&<>"']/g, (c) => `&#${c.charCodeAt(0)};`);
const mm = (v: number): number => Math.round(v * 100) / 100;

/** The scale that is used: the one wanted, else the largest of SCALES that fits. `box` in metres. */
function fittingScale(box: { min: Point; max: Point }, sheet: PaperSize): number {
  const [width, height] = PAPER_SIZES[sheet];
  const [room, high] = [width - MARGIN_MM * 2 - TITLE_MM, height - MARGIN_MM * 2];
  const need = Math.max(((box.max.x - box.min.x) * 1000) / room, ((box.max.y - box.min.y) * 1000) / high);
  return SCALES.find((s) => s >= need) ?? Math.ceil(need / 500) * 500;
}

/** The largest scale at which a side of the plot fits a sheet. */
export const scaleFor = (document: Document, side: PlotSide, sheet: PaperSize): number =>
  fittingScale(drawnOn(document, side).box, sheet);

/** All that is drawn of a side: bodies by number, the corners of the room, and what both cover. */
function drawnOn(document: Document, side: PlotSide) {
  const bodies = recordsOf(document, 'unit')
    .toSorted((a, b) => a.number - b.number)
    .map((unit) =>
      bodyOf(side, unit, getRecord(document, 'profile', unit.profileId), layoutOfUnit(document, unit).cells),
    );
  const { widthM, depthM, heightM } = roomOf(document);
  const corners = [
    toPaper(side, { x: -widthM / 2, y: -depthM / 2, z: 0 }),
    toPaper(side, { x: widthM / 2, y: depthM / 2, z: heightM }),
  ] as const;
  return { bodies, corners, box: bounds([...corners, ...bodies.flatMap((b) => [b.box.min, b.box.max])])! };
}

/**
 * The plot to scale as a page of SVG: the drawing at left, at right a title block with name, side, scale and date, and
 * a legend of what hangs. Every text is escaped; nothing in it loads anything. Linear in the cells.
 */
export function plotSvg(document: Document, print: PlotPrint): string {
  const { bodies, corners, box } = drawnOn(document, print.side);
  const scale = print.scale ?? fittingScale(box, print.sheet);
  const [width, height] = PAPER_SIZES[print.sheet];
  const room = width - MARGIN_MM * 2 - TITLE_MM;
  const perMetre = 1000 / scale;
  const middle = { x: (box.min.x + box.max.x) / 2, y: (box.min.y + box.max.y) / 2 };
  const at = (p: Point): Point => ({
    x: mm(MARGIN_MM + room / 2 + (p.x - middle.x) * perMetre),
    y: mm(height / 2 - (p.y - middle.y) * perMetre),
  });
  const [a, b] = [at({ x: corners[0].x, y: corners[1].y }), at({ x: corners[1].x, y: corners[0].y })];
  const parts = [
    `<rect x="${a.x}" y="${a.y}" width="${mm(b.x - a.x)}" height="${mm(b.y - a.y)}" class="room"/>`,
    ...backdrops(document, print, at, perMetre),
    ...things(document, print.side, at),
    ...(print.areas && print.side === 'plan' ? areas(document, at) : []),
    ...bodies.map((body) => unitSvg(document, print, body, at, perMetre)),
  ];
  return [
    `<svg xmlns="http://www.w3.org/2000/svg" width="${width}mm" height="${height}mm" viewBox="0 0 ${width} ${height}" font-family="Atkinson Hyperlegible Next Variable, Atkinson Hyperlegible Next, sans-serif">`,
    `<style>${print.font ? `@font-face{font-family:'Atkinson Hyperlegible Next Variable';font-weight:200 800;src:url(${print.font}) format('woff2')}` : ''}.room{fill:none;stroke:#888;stroke-width:.35}.area{fill:#0000000a;stroke:#777;stroke-width:.2;stroke-dasharray:1.5 1}.thing{fill:#00000008;stroke:#999;stroke-width:.2}.unit{fill:#fff;stroke:#111;stroke-width:.25}.dots{fill:none;stroke:#333;stroke-linecap:round}.label{font-size:2.2px;text-anchor:middle;fill:#111}.small{font-size:2.6px;fill:#444}.name{font-weight:600}.frame{fill:none;stroke:#111;stroke-width:.35}</style>`,
    `<rect width="${width}" height="${height}" fill="#fff"/>`,
    `<clipPath id="drawing"><rect x="${MARGIN_MM}" y="${MARGIN_MM}" width="${mm(room)}" height="${height - MARGIN_MM * 2}"/></clipPath>`,
    `<g clip-path="url(#drawing)">`,
    ...parts,
    `</g>`,
    `<rect x="${MARGIN_MM}" y="${MARGIN_MM}" width="${mm(room)}" height="${height - MARGIN_MM * 2}" class="frame"/>`,
    titleBlock(document, print, bodies, scale),
    `</svg>`,
  ].join('\n');
}

type At = (p: Point) => Point;

function backdrops(document: Document, { side, pictures }: PlotPrint, at: At, perMetre: number): string[] {
  return recordsOf(document, 'backdrop').flatMap((b) => {
    const picture = getRecord(document, 'picture', b.pictureId);
    const address = picture && pictures.get(picture.blob);
    if (!address || b.side !== side || b.hidden) return [];
    const [w, h] = [b.widthM * perMetre, (b.widthM * perMetre * picture.heightPx) / picture.widthPx];
    const c = at(b);
    return [
      `<image href="${address}" x="${mm(c.x - w / 2)}" y="${mm(c.y - h / 2)}" width="${mm(w)}" height="${mm(h)}" opacity="${b.opacity}" preserveAspectRatio="none" transform="rotate(${-b.turnDeg} ${c.x} ${c.y})"/>`,
    ];
  });
}

/** What stands in the room, from the lowest up: its outline. */
const things = (document: Document, side: PlotSide, at: At): string[] =>
  recordsOf(document, 'thing')
    .toSorted((a, b) => a.position.z - b.position.z || a.number - b.number)
    .map((thing) => {
      const points = outlineOf(side, thing).map(at);
      return `<polygon points="${points.map((p) => `${mm(p.x)},${mm(p.y)}`).join(' ')}" class="thing"><title>${escape(thing.name)}</title></polygon>`;
    });

const areas = (document: Document, at: At): string[] =>
  recordsOf(document, 'area').flatMap((area) => {
    if (!area.outline) return [];
    const points = area.outline.map(at);
    const top = points.reduce((best, p) => (p.y < best.y || (p.y === best.y && p.x < best.x) ? p : best));
    return [
      `<polygon points="${points.map((p) => `${p.x},${p.y}`).join(' ')}" class="area"/>`,
      `<text x="${top.x}" y="${mm(top.y + 3)}" dx="1" class="small">${area.number} ${escape(area.name)}</text>`,
    ];
  });

function unitSvg(document: Document, print: PlotPrint, body: Body, at: At, perMetre: number): string {
  const { unit } = body;
  const text = labelOf(document, print, body);
  const below = at({ x: (body.box.min.x + body.box.max.x) / 2, y: body.box.min.y });
  const label = text && `<text x="${below.x}" y="${mm(below.y + 3)}" class="label">${escape(text)}</text>`;
  if (body.dots.cells.length > 0) {
    const [u, v] = PAPER_AXES[print.side].map((axis) => 'xyz'.indexOf(axis)) as [number, number];
    const { xyz } = body.dots;
    let d = '';
    for (let i = 0; i < xyz.length; i += 3) {
      const p = at({ x: xyz[i + u]!, y: xyz[i + v]! });
      d += `M${p.x} ${p.y}h0`;
    }
    return `<g id="${escape(unit.id)}"><path d="${d}" class="dots" stroke-width="${mm(Math.max(0.25, Math.min(1.2, 0.03 * perMetre)))}"/>${label}</g>`;
  }
  const p = at(body.at);
  const [w, h] = [Math.max(2.2, body.width * perMetre), Math.max(2, body.height * perMetre)];
  const path = symbolPath(body.profile?.fixtureKind ?? 'other', w, h);
  const gel = unit.gel ? ` style="fill:${unit.gel}"` : '';
  return `<g id="${escape(unit.id)}"><path d="${path}" transform="translate(${p.x} ${p.y}) rotate(${mm(-body.turnDeg)})" class="unit"${gel}/>${label}</g>`;
}

function labelOf(document: Document, { labels }: PlotPrint, { unit }: Body): string {
  const place = labels.includes('address') ? placeOf(patchOf(document).get(unit.id)) : null;
  return [
    labels.includes('number') ? String(unit.number) : '',
    labels.includes('name') ? unit.name : '',
    place ? formatAddress(place.universe, place.address) : '',
  ]
    .filter(Boolean)
    .join('  ');
}

function titleBlock(document: Document, print: PlotPrint, bodies: readonly Body[], scale: number): string {
  const show = recordsOf(document, 'show')[0];
  const [width, height] = PAPER_SIZES[print.sheet];
  const x = width - MARGIN_MM - TITLE_MM + 4;
  const lengths = show?.lengths ?? 'metres';
  const name = (show?.name ?? '').slice(0, 40);
  // As large as the block takes; a letter is about 0.62 of its size wide.
  const nameSize = mm(Math.min(6, (TITLE_MM - 6) / (Math.max(1, name.length) * 0.62)));
  const room = show?.room;
  const lines = [
    SIDE_WORDS[print.side],
    `Scale 1 : ${scale}`,
    ...(room ? [`${room.name}, ${lengthText(room.widthM, lengths)} x ${lengthText(room.depthM, lengths)}`] : []),
    `${bodies.length} units`,
    print.date,
  ];
  const legend = legendOf(bodies);
  const most = Math.floor((height - MARGIN_MM * 2 - 48) / 6);
  const rows = legend.slice(0, most).map(({ kind, words, count }, i) => {
    const y = MARGIN_MM + 50 + i * 6;
    return `<path d="${symbolPath(kind, 5, 4)}" transform="translate(${x + 4} ${y})" class="unit"/><text x="${x + 10}" y="${y + 1}" class="small">${count} x ${escape(words.slice(0, 34))}</text>`;
  });
  if (legend.length > most)
    rows.push(
      `<text x="${x}" y="${MARGIN_MM + 50 + most * 6}" class="small">and ${legend.length - most} more kinds</text>`,
    );
  return [
    `<text x="${x}" y="${MARGIN_MM + 7}" class="name" font-size="${nameSize}">${escape(name)}</text>`,
    ...lines.map((text, i) => `<text x="${x}" y="${MARGIN_MM + 14 + i * 4.5}" class="small">${escape(text)}</text>`),
    `<text x="${x}" y="${MARGIN_MM + 43}" class="small" font-weight="600">Legend</text>`,
    ...rows,
  ].join('\n');
}

/** Profiles in use with how many units have them, most first. */
function legendOf(bodies: readonly Body[]): { kind: FixtureKind; words: string; count: number }[] {
  const counts = new Map<string, { kind: FixtureKind; words: string; count: number }>();
  for (const { profile } of bodies) {
    const kind = profile?.fixtureKind ?? 'other';
    const words = profile ? `${profile.maker} ${profile.model}` : 'without a profile';
    const known = counts.get(words);
    if (known) known.count++;
    else counts.set(words, { kind, words, count: 1 });
  }
  return [...counts.values()].sort((a, b) => b.count - a.count || a.words.localeCompare(b.words));
}
