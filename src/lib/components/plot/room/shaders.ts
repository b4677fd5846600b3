/** Shaders of light in the room. Light is linear; it is exposed and encoded to sRGB at the end of each. */
const EXPOSED = `
vec3 exposed(vec3 light, float exposure) {
  vec3 seen = 1.0 - exp(-light * exposure);
  return mix(seen * 12.92, 1.055 * pow(seen, vec3(1.0 / 2.4)) - 0.055, step(0.0031308, seen));
}`;

/**
 * Light of a beam on a face: by beam and field angle with a soft edge, by how the face looks and how far it is. `tans`:
 * tangents of half the beam and half the field.
 */
const LIT = `
float lit(vec3 place, vec3 normal, vec3 from, vec3 along, vec2 tans) {
  vec3 way = place - from;
  float ahead = dot(way, along);
  if (ahead <= 0.01) return 0.0;
  float off = length(way - along * ahead) / ahead;
  float edge = 1.0 - smoothstep(tans.x * 0.82, tans.y * 1.12, off);
  return edge * max(0.0, -dot(normalize(way), normal)) / (dot(way, way) + 0.05);
}`;

/** One beam an instance: an open cone from the lens to where it ends, seen by the haze in it. */
export const BEAM_VERTEX = `
attribute vec3 beamFrom; attribute vec3 beamAlong; attribute vec3 beamLight;
/* tangents of half the beam and half the field, length in metres, size of the lens in metres */
attribute vec4 beamShape;
varying vec3 vLight; varying vec3 vNormal; varying vec3 vEye; varying vec3 vPlace; varying float vAt; varying float vWide;
void main() {
  vec3 axis = normalize(beamAlong);
  vec3 side = normalize(abs(axis.z) < 0.9 ? cross(axis, vec3(0.0, 0.0, 1.0)) : cross(axis, vec3(1.0, 0.0, 0.0)));
  vec3 up = cross(side, axis);
  vec3 out_ = side * position.x + up * position.y;
  float at = position.z * beamShape.z;
  float wide = beamShape.w + at * beamShape.y;
  vec3 place = beamFrom + axis * at + out_ * wide;
  vNormal = normalize(out_ - axis * beamShape.y);
  vPlace = place;
  vEye = cameraPosition - place;
  vLight = beamLight;
  vAt = at;
  vWide = wide;
  gl_Position = projectionMatrix * viewMatrix * vec4(place, 1.0);
}`;
export const BEAM_FRAGMENT = `
precision highp float;
uniform float haze; uniform float exposure; uniform vec3 low; uniform vec3 high;
varying vec3 vLight; varying vec3 vNormal; varying vec3 vEye; varying vec3 vPlace; varying float vAt; varying float vWide;
${EXPOSED}
void main() {
  /* Light ends where the room does. */
  if (any(lessThan(vPlace, low)) || any(greaterThan(vPlace, high))) discard;
  /* A look through the middle meets more haze than one past the edge. */
  float facing = abs(dot(normalize(vNormal), normalize(vEye)));
  float thick = facing * facing;
  float lit = thick * haze / (0.6 + vWide * 3.0) * exp(-vAt * 0.06);
  gl_FragColor = vec4(exposed(vLight * lit, exposure), 1.0);
}`;

/** One pool an instance: a piece of a face of the room, lit by one beam. */
export const POOL_VERTEX = `
attribute vec3 poolAt; attribute vec3 poolAcross; attribute vec3 poolUp;
attribute vec3 beamFrom; attribute vec3 beamAlong; attribute vec3 beamLight; attribute vec2 beamTan;
varying vec3 vPlace; varying vec3 vFrom; varying vec3 vAlong; varying vec3 vLight; varying vec2 vTan; varying vec3 vNormal;
void main() {
  vPlace = poolAt + poolAcross * position.x + poolUp * position.y;
  vNormal = normalize(cross(poolAcross, poolUp));
  vFrom = beamFrom;
  vAlong = beamAlong;
  vLight = beamLight;
  vTan = beamTan;
  gl_Position = projectionMatrix * viewMatrix * vec4(vPlace, 1.0);
}`;
export const POOL_FRAGMENT = `
precision highp float;
uniform float exposure;
varying vec3 vPlace; varying vec3 vFrom; varying vec3 vAlong; varying vec3 vLight; varying vec2 vTan; varying vec3 vNormal;
${EXPOSED}
${LIT}
void main() {
  float light = lit(vPlace, vNormal, vFrom, vAlong, vTan);
  if (light <= 0.0) discard;
  gl_FragColor = vec4(exposed(vLight * light, exposure), 1.0);
}`;

/** So many beams light bodies and things: the brightest. */
export const LIT_BY = 16;

/** Bodies and things: ambient light by the way a face looks, and light of the brightest beams. */
export const SOLID_VERTEX = `
varying vec3 vPlace; varying vec3 vNormal; varying vec3 vColour;
void main() {
  vec4 place = instanceMatrix * vec4(position, 1.0);
  vPlace = place.xyz;
  /* Each side of a body may be stretched on its own: its normal is turned by the inverse. */
  mat3 m = mat3(instanceMatrix);
  vNormal = m * (normal / vec3(dot(m[0], m[0]), dot(m[1], m[1]), dot(m[2], m[2])));
  vColour = instanceColor;
  gl_Position = projectionMatrix * viewMatrix * place;
}`;
export const SOLID_FRAGMENT = `
precision highp float;
uniform float ambient; uniform float exposure; uniform int litBy;
uniform vec4 litFrom[${LIT_BY}]; uniform vec4 litAlong[${LIT_BY}]; uniform vec3 litLight[${LIT_BY}];
varying vec3 vPlace; varying vec3 vNormal; varying vec3 vColour;
${EXPOSED}
${LIT}
void main() {
  vec3 normal = normalize(vNormal);
  vec3 light = vec3(0.02 + ambient * (0.42 + 0.3 * normal.z - 0.12 * normal.y));
  for (int i = 0; i < ${LIT_BY}; i++) {
    if (i >= litBy) break;
    vec2 tans = vec2(litFrom[i].w, litAlong[i].w);
    light += litLight[i] * lit(vPlace, normal, litFrom[i].xyz, litAlong[i].xyz, tans);
  }
  gl_FragColor = vec4(exposed(vColour * light, exposure), 1.0);
}`;

/** Cells as round points that shine by themselves, as large as they are far. */
export const DOT_VERTEX = `
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
  vLight = pull > 0.0 ? dotLight.rgb : max(dotLight.rgb, vec3(0.06 + 0.1 * ambient));
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
  gl_FragColor = vec4(vLight * (smoothstep(0.26, 0.16, off) + 0.55 * halo), 1.0);
}`;
