/**
 * Shaders of the room. All of them give linear light, which is added up without an end; a last pass (EXPOSE) exposes the
 * whole picture and encodes it to sRGB.
 */
export const EXPOSE_VERTEX = `
varying vec2 vAt;
void main() {
  vAt = position.xy * 0.5 + 0.5;
  gl_Position = vec4(position.xy, 0.0, 1.0);
}`;
export const EXPOSE_FRAGMENT = `
precision highp float;
uniform sampler2D light; uniform float exposure;
varying vec2 vAt;
void main() {
  vec3 sent = max(texture2D(light, vAt).rgb, 0.0);
  /* Strong light keeps most of its hue, as the eye sees it; a camera would make it white. */
  float most = max(max(sent.r, sent.g), max(sent.b, 1e-5));
  vec3 hued = sent / most * (1.0 - exp(-most * exposure));
  vec3 seen = mix(1.0 - exp(-sent * exposure), hued, 0.75);
  gl_FragColor = vec4(mix(seen * 12.92, 1.055 * pow(seen, vec3(1.0 / 2.4)) - 0.055, step(0.0031308, seen)), 1.0);
}`;

/** Light that is seen as it is sent, however the picture is exposed: colours of cells and lenses. */
const AS_SENT = `
uniform float exposure;
vec3 asSent(vec3 colour) {
  vec3 light = pow(colour, vec3(2.2));
  float most = max(max(light.r, light.g), max(light.b, 1e-5));
  return light / most * -log(1.0 - min(most, 0.985)) / exposure;
}`;

/** Beams in their texture: so many texels of four numbers each, and so many beams in a row of it. */
export const BEAM_TEXELS = 8;
export const BEAMS_A_ROW = 16;
/** Pictures in the sheet of pictures, across and up. */
export const SHEET_SIDE = 8;

/**
 * A beam as the texture of beams has it: `from` and inner edge, `along` and outer edge, light and split, second light and
 * picture (its number from 1, with how blurred it is as the part after the point), across and turn, angle and edge of four
 * blades, and what the haze shows of it: its part of the light, its length, the size of the lens, and whether something
 * stands in it.
 */
const BEAM_DATA = `
uniform highp sampler2D beams;
vec4 beamPart(int beam, int part) {
  return texelFetch(beams, ivec2((beam % ${BEAMS_A_ROW}) * ${BEAM_TEXELS} + part, beam / ${BEAMS_A_ROW}), 0);
}`;

/** What stands in a beam. `at`: off its axis, across and up, a metre along it. */
const PASSING = `
uniform sampler2D sheet;
float edgeOf(vec2 at, vec2 edges) { return 1.0 - smoothstep(edges.x, edges.y, length(at)); }
float cutBy(vec2 at, vec4 a, vec4 b, float soft) {
  float left = 1.0;
  vec4 deg = vec4(a.x, a.z, b.x, b.z);
  vec4 ends = vec4(a.y, a.w, b.y, b.w);
  for (int i = 0; i < 4; i++) {
    if (ends[i] > 100.0) continue;
    left *= smoothstep(-soft, soft, ends[i] - dot(at, vec2(cos(deg[i]), sin(deg[i]))));
  }
  return left;
}
vec3 tintOf(vec2 at, vec4 one, vec3 two, float outer, float soft) {
  return one.w > 1.0 ? one.rgb : mix(two, one.rgb, smoothstep(-soft, soft, one.w * outer - at.x));
}
float shownAt(vec2 p, float number) {
  if (dot(p, p) > 1.0) return 0.0;
  vec2 cell = vec2(mod(number, ${SHEET_SIDE}.0), floor(number / ${SHEET_SIDE}.0));
  return texture2D(sheet, (cell + vec2(0.5 + 0.46 * p.x, 0.5 - 0.46 * p.y)) / ${SHEET_SIDE}.0).r;
}
float pictureAt(vec2 at, float outer, float picture, float turn) {
  if (picture < 1.0) return 1.0;
  float number = floor(picture) - 1.0;
  float blur = 0.02 + 0.3 * fract(picture);
  vec2 p = mat2(cos(turn), -sin(turn), sin(turn), cos(turn)) * at / outer;
  vec2 d = vec2(blur, -blur);
  return 0.28 * shownAt(p, number) + 0.18 * (shownAt(p + d.xx, number) + shownAt(p + d.xy, number) +
    shownAt(p + d.yx, number) + shownAt(p + d.yy, number));
}`;

/** Light of a beam on a face: by what stands in it, by how the face looks and how far it is. */
const LIT = `
vec3 lit(vec3 place, vec3 normal, vec4 from, vec4 along, vec4 one, vec4 two, vec4 across, vec4 a, vec4 b) {
  vec3 way = place - from.xyz;
  float ahead = dot(way, along.xyz);
  if (ahead <= 0.01) return vec3(0.0);
  vec3 off = (way - along.xyz * ahead) / ahead;
  vec2 at = vec2(dot(off, across.xyz), dot(off, cross(across.xyz, along.xyz)));
  float edge = edgeOf(at, vec2(from.w, along.w));
  if (edge <= 0.0) return vec3(0.0);
  float falls = max(0.0, -dot(normalize(way), normal)) / (dot(way, way) + 1.5);
#ifdef SHAPED
  float soft = along.w * (0.03 + 0.4 * fract(max(0.0, two.w)));
  edge *= cutBy(at, a, b, soft) * pictureAt(at, along.w, two.w, across.w);
  return tintOf(at, one, two.rgb, along.w, soft) * edge * falls;
#else
  return one.rgb * edge * falls;
#endif
}`;

/**
 * What a fragment is told of its beam. Pools and cones are drawn twice, plain beams and those with something in them
 * (SHAPED): where there is no graphics card every line of a shader costs, whether it is needed or not. Each passes over
 * the beams of the other.
 */
const OF_BEAM = ['vFrom', 'vAlong', 'vOne', 'vTwo', 'vAcross', 'vBladesA', 'vBladesB']
  .map((name) => `flat varying vec4 ${name};`)
  .join(' ');
const TELL_BEAM = `
  vFrom = beamPart(beam, 0); vAlong = beamPart(beam, 1); vOne = beamPart(beam, 2); vTwo = beamPart(beam, 3);
  vAcross = beamPart(beam, 4); vBladesA = beamPart(beam, 5); vBladesB = beamPart(beam, 6);
#ifdef SHAPED
  bool mine = beamPart(beam, 7).w > 0.5;
#else
  bool mine = beamPart(beam, 7).w < 0.5;
#endif
  /* What is dark is not drawn. */
  if (!mine || dot(vOne.rgb + vTwo.rgb, vec3(1.0)) <= 0.0) { gl_Position = vec4(2.0, 2.0, 2.0, 1.0); return; }`;

/** One beam an instance: an open cone from the lens to where it ends, seen by the haze in it. */
export const BEAM_VERTEX = `
${BEAM_DATA}
${OF_BEAM}
flat varying vec2 vPart; varying vec3 vPlace;
void main() {
  int beam = gl_InstanceID;
  ${TELL_BEAM}
  vec4 inHaze = beamPart(beam, 7);
  vec3 axis = vAlong.xyz;
  vec3 out_ = vAcross.xyz * position.x + cross(vAcross.xyz, axis) * position.y;
  float at = position.z * inHaze.y;
  float wide = inHaze.z + at * vAlong.w;
  vec3 place = vFrom.xyz + axis * at + out_ * wide;
  vPlace = place;
  vPart = inHaze.xz;
  gl_Position = projectionMatrix * viewMatrix * vec4(place, 1.0);
}`;
export const BEAM_FRAGMENT = `
precision highp float;
uniform float haze; uniform vec3 low; uniform vec3 high;
${OF_BEAM}
flat varying vec2 vPart; varying vec3 vPlace;
${PASSING}
void main() {
  /* Light ends where the room does. */
  if (any(lessThan(vPlace, low)) || any(greaterThan(vPlace, high))) discard;
  /* A look through the middle meets more haze than one past the edge. */
  vec3 way = vPlace - vFrom.xyz;
  float at = dot(way, vAlong.xyz);
  float wide = vPart.y + at * vAlong.w;
  vec3 off_ = way - vAlong.xyz * at;
  vec3 out_ = off_ * inversesqrt(dot(off_, off_));
  vec3 normal = out_ - vAlong.xyz * vAlong.w;
  vec3 eye = cameraPosition - vPlace;
  float facing = dot(normal, eye);
  float thick = facing * facing / (dot(normal, normal) * dot(eye, eye));
  float lit = vPart.x * thick * haze / (0.6 + wide * 3.0) * exp(-at * 0.06);
#ifdef SHAPED
  vec2 off = vec2(dot(out_, vAcross.xyz), dot(out_, cross(vAcross.xyz, vAlong.xyz))) * vAlong.w;
  float soft = vAlong.w * (0.05 + 0.4 * fract(max(0.0, vTwo.w)));
  lit *= cutBy(off * 0.8, vBladesA, vBladesB, soft);
  /* The haze shows what is on the way through it: more or less of the picture's light on this side. */
  if (vTwo.w >= 1.0) lit *= (pictureAt(off * 0.35, vAlong.w, vTwo.w, vAcross.w) +
    pictureAt(off * 0.6, vAlong.w, vTwo.w, vAcross.w) + pictureAt(off * 0.85, vAlong.w, vTwo.w, vAcross.w)) / 3.0;
  gl_FragColor = vec4(tintOf(off * 0.6, vOne, vTwo.rgb, vAlong.w, soft) * lit, 1.0);
#else
  gl_FragColor = vec4(vOne.rgb * lit, 1.0);
#endif
}`;

/** One pool an instance: a piece of a face of the room, lit by one beam. */
export const POOL_VERTEX = `
attribute vec3 poolAt; attribute vec3 poolAcross; attribute vec3 poolUp; attribute float poolBeam;
${BEAM_DATA}
${OF_BEAM}
varying vec3 vPlace; varying vec3 vNormal;
void main() {
  vPlace = poolAt + poolAcross * position.x + poolUp * position.y;
  vNormal = normalize(cross(poolAcross, poolUp));
  int beam = int(poolBeam + 0.5);
  ${TELL_BEAM}
  gl_Position = projectionMatrix * viewMatrix * vec4(vPlace, 1.0);
}`;
export const POOL_FRAGMENT = `
precision highp float;
${OF_BEAM}
varying vec3 vPlace; varying vec3 vNormal;
${PASSING}
${LIT}
void main() {
  vec3 light = lit(vPlace, vNormal, vFrom, vAlong, vOne, vTwo, vAcross, vBladesA, vBladesB);
  if (light.r + light.g + light.b <= 0.0) discard;
  gl_FragColor = vec4(light, 1.0);
}`;

/**
 * Bodies and things: ambient light by the way a face looks, and light of the beams that meet them, whose numbers come with
 * each body (`core/room/reach.ts`).
 */
const solidMain = (matrix: string, colour: string): string => `
flat varying vec4 vBeamsA; flat varying vec4 vBeamsB; flat varying vec2 vBeams;
varying vec3 vPlace; varying vec3 vNormal; varying vec3 vColour;
void main() {
  vec4 place = ${matrix} * vec4(position, 1.0);
  vPlace = place.xyz;
  /* Each side of a body may be stretched on its own: its normal is turned by the inverse. */
  mat3 m = mat3(${matrix});
  vNormal = m * (normal / vec3(dot(m[0], m[0]), dot(m[1], m[1]), dot(m[2], m[2])));
  vColour = ${colour};
  vBeamsA = bodyBeamsA;
  vBeamsB = bodyBeamsB;
  vBeams = bodyCount;
  gl_Position = projectionMatrix * viewMatrix * place;
}`;
export const SOLID_VERTEX = `attribute vec4 bodyBeamsA; attribute vec4 bodyBeamsB; attribute vec2 bodyCount;
${solidMain('instanceMatrix', 'instanceColor')}`;
/** A single mesh with colours of its own. */
export const MODEL_VERTEX = `uniform vec4 bodyBeamsA; uniform vec4 bodyBeamsB; uniform vec2 bodyCount;
attribute vec3 shade; uniform vec3 tint;
${solidMain('modelMatrix', 'pow(shade, vec3(2.2)) * tint')}`;
export const SOLID_FRAGMENT = `
#define SHAPED
precision highp float; precision highp int;
uniform float ambient;
flat varying vec4 vBeamsA; flat varying vec4 vBeamsB; flat varying vec2 vBeams;
varying vec3 vPlace; varying vec3 vNormal; varying vec3 vColour;
${BEAM_DATA}
${PASSING}
${LIT}
void main() {
  vec3 normal = normalize(vNormal);
  vec3 light = vec3(0.02 + ambient * (0.42 + 0.3 * normal.z - 0.12 * normal.y));
  /* Two loops, not a branch: without a graphics card a branch is gone through whether it is taken or not. */
  int shaped = int(vBeams.x + 0.5); int count = int(vBeams.y + 0.5);
  for (int i = 0; i < shaped; i++) {
    int beam = int((i < 4 ? vBeamsA[i] : vBeamsB[i - 4]) + 0.5);
    light += lit(vPlace, normal, beamPart(beam, 0), beamPart(beam, 1), beamPart(beam, 2), beamPart(beam, 3),
      beamPart(beam, 4), beamPart(beam, 5), beamPart(beam, 6));
  }
  for (int i = shaped; i < count; i++) {
    int beam = int((i < 4 ? vBeamsA[i] : vBeamsB[i - 4]) + 0.5);
    vec4 from = beamPart(beam, 0); vec4 along = beamPart(beam, 1);
    vec3 way = vPlace - from.xyz;
    float ahead = max(0.01, dot(way, along.xyz));
    float far = dot(way, way);
    float edge = 1.0 - smoothstep(from.w * from.w, along.w * along.w, far / (ahead * ahead) - 1.0);
    light += beamPart(beam, 2).rgb * (edge * max(0.0, -dot(way, normal)) * inversesqrt(far) / (far + 1.5));
  }
  gl_FragColor = vec4(vColour * light, 1.0);
}`;

/** Haze that rises from what makes it: soft points that come, grow and thin out. */
export const HAZE_VERTEX = `
attribute vec4 puff;
uniform float perMetre; uniform float time;
varying float vThick;
void main() {
  /* puff: which way it drifts (x, y), when in its life it is (z), how much is made (w). */
  float age = fract(time / 9.0 + puff.z);
  vec3 place = position + vec3(puff.xy * age * 1.6, 0.1 + age * 2.4 + 0.12 * sin(time + puff.z * 40.0));
  vec4 seen = viewMatrix * vec4(place, 1.0);
  gl_Position = projectionMatrix * seen;
  gl_PointSize = clamp((0.25 + 1.5 * age) * perMetre / max(0.1, -seen.z), 1.0, 220.0);
  vThick = puff.w * min(1.0, age * 8.0) * (1.0 - age) * (1.0 - age);
}`;
export const HAZE_FRAGMENT = `
precision mediump float;
uniform float ambient; uniform float haze;
varying float vThick;
void main() {
  float off = length(gl_PointCoord * 2.0 - 1.0);
  if (off > 1.0 || vThick <= 0.0) discard;
  float soft = (1.0 - off) * (1.0 - off);
  float thick = soft * vThick * 0.4;
  gl_FragColor = vec4(vec3(0.62, 0.68, 0.8) * thick * (0.12 + 0.4 * ambient) * (0.4 + haze), thick);
}`;

/** Cells as round points that shine by themselves, as large as they are far. */
export const DOT_VERTEX = `
${AS_SENT}
attribute vec4 dotLight;
uniform float perMetre; uniform float least; uniform float dotM; uniform float ambient; uniform float pull;
varying vec3 vLight;
void main() {
  vec4 seen = viewMatrix * vec4(position, 1.0);
  gl_Position = projectionMatrix * seen;
  /* A lens sits in the front of its case: its depth is that of a place nearer to the eye. */
  vec4 nearer = projectionMatrix * vec4(seen.xy, min(seen.z + pull, -0.11), 1.0);
  gl_Position.z = nearer.z / nearer.w * gl_Position.w;
  gl_PointSize = clamp(dotM * perMetre / max(0.1, -seen.z), least, 64.0);
  vLight = asSent(pull > 0.0 ? dotLight.rgb : max(dotLight.rgb, vec3(0.06 + 0.1 * ambient)));
}`;
export const DOT_FRAGMENT = `
precision mediump float;
varying vec3 vLight;
void main() {
  float off = length(gl_PointCoord * 2.0 - 1.0);
  if (off > 1.0) discard;
  gl_FragColor = vec4(vLight * (1.0 - 0.35 * off), 1.0);
}`;
/** Lenses of lamps: a bright core in a halo. */
export const LENS_FRAGMENT = `
precision mediump float;
varying vec3 vLight;
void main() {
  float off = length(gl_PointCoord * 2.0 - 1.0);
  if (off > 1.0) discard;
  float halo = (1.0 - off) * (1.0 - off);
  gl_FragColor = vec4(vLight * (smoothstep(0.26, 0.16, off) + 0.22 * halo), 1.0);
}`;
