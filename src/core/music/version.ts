/**
 * The ear as it is now, counted up whenever it hears better. Songs that an earlier one heard are left as they are, since shows
 * may stand on them, and can be heard anew.
 */
export const EAR = 2;
