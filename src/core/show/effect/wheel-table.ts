/** Size of the table that finds the nearest slot of a wheel: hues round the circle, and saturations. */
export const HUES = 48;
export const SATURATIONS = 4;
