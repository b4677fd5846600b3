import { recordsOf, type Document } from '../document/change.ts';
import { USUAL_ROOM, type ShowRecord } from '../records/show.ts';

/** The room of a show. */
export const roomOf = (document: Document): ShowRecord['room'] => recordsOf(document, 'show')[0]?.room ?? USUAL_ROOM;
