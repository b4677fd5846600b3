/** Part of a colour a slot gives; OTHER for everything else. */
export const [RED, GREEN, BLUE, WHITE, OTHER] = [0, 1, 2, 3, 4] as const;
