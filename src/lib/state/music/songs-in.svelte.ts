import { recordsOf } from '$core/document/change.ts';
import { soundKind, SOUND_KINDS } from '$core/format/sound-kind.ts';
import { nextNumber } from '$core/naming.ts';
import { LARGEST_SOUND, type SoundType } from '$core/records/blob.ts';
import { make } from '$core/records/index.ts';
import { nameOfFile, tagsFrom, type SongTags } from '$core/song/names.ts';
import { sendBlob } from '../pictures/blobs.ts';
import type { App } from '../app.svelte.ts';
import { wavOf } from './wav-of.ts';

/** A file on its way in. */
export interface ComingSong {
  readonly key: number;
  readonly file: string;
  readonly share: number;
  /** Why it did not come in; null while all is well. */
  readonly fault: string | null;
}

const HEAD = 64 * 1024;
/** So many are sent at once. */
const AT_ONCE = 2;

/** Songs that are brought in: any number of files, one failing without the others. */
export class SongsIn {
  coming = $state.raw<readonly ComingSong[]>([]);
  readonly #app: App;
  readonly #waiting: { readonly key: number; readonly file: File }[] = [];
  #running = 0;
  #key = 0;

  constructor(app: App) {
    this.#app = app;
  }

  take(files: readonly File[]): void {
    for (const file of files) {
      const key = ++this.#key;
      this.#waiting.push({ key, file });
      this.coming = [...this.coming, { key, file: file.name, share: 0, fault: null }];
    }
    while (this.#running < AT_ONCE && this.#waiting.length > 0) void this.#run();
  }

  /** What did not come in is read and put away. */
  putAway(key: number): void {
    this.coming = this.coming.filter((one) => one.key !== key);
  }

  async #run(): Promise<void> {
    this.#running++;
    for (let next = this.#waiting.shift(); next; next = this.#waiting.shift()) {
      const { key, file } = next;
      try {
        await this.#bring(file, (share) => this.#set(key, { share }));
        this.putAway(key);
      } catch (error) {
        this.#set(key, { fault: (error as Error).message });
      }
    }
    this.#running--;
  }

  #set(key: number, change: Partial<ComingSong>): void {
    this.coming = this.coming.map((one) => (one.key === key ? { ...one, ...change } : one));
  }

  async #bring(file: File, told: (share: number) => void): Promise<void> {
    const { bytes, type } = await soundOf(file);
    const blob = await sendBlob(bytes, { what: 'song', told });
    const { live } = this.#app;
    const songs = recordsOf(live.document, 'song');
    const same = songs.find((song) => song.blob === blob);
    if (same) {
      live.tell('note', `“${same.name}” is here already`, file.name);
      return;
    }
    const tags = await tagsOf(file);
    const name = tags.title || nameOfFile(file.name);
    const song = make('song', {
      id: this.#app.newId('song'),
      number: nextNumber(songs),
      name,
      artist: tags.artist,
      album: tags.album,
      file: file.name.slice(0, 300).toWellFormed(),
      blob,
      type,
      bytes: bytes.length,
    });
    live.edit(`Add ${name}`, { put: [song], remove: [] });
  }
}

/** What a file says of itself. Read here, so that what is added is whole at once and can be undone as a whole. */
async function tagsOf(file: File): Promise<SongTags> {
  try {
    const { parseBlob } = await import('music-metadata');
    const { common } = await parseBlob(file, { skipCovers: true, duration: false });
    return tagsFrom(common);
  } catch {
    return tagsFrom({});
  }
}

/** A file as it is kept. Throws with what is wrong with it. */
async function soundOf(file: File): Promise<{ bytes: Uint8Array<ArrayBuffer>; type: SoundType }> {
  if (file.size === 0) throw new Error('The file is empty. Choose the file itself once more.');
  if (file.size > LARGEST_SOUND)
    throw new Error(
      `It has ${Math.round(file.size / 1e6)} MB; songs of up to ${LARGEST_SOUND / 2 ** 20} MiB are taken.`,
    );
  const kind = soundKind(new Uint8Array(await file.slice(0, HEAD).arrayBuffer()));
  if (kind === null)
    throw new Error('This is no sound that is known here: WAV, AIFF, MP3, FLAC, Ogg Vorbis, Opus and M4A are.');
  const buffer = await file.arrayBuffer().catch(() => {
    throw new Error('The file cannot be read; perhaps it was moved. Choose it once more.');
  });
  const type = SOUND_KINDS[kind];
  if (type) return { bytes: new Uint8Array(buffer), type };
  // M4A: whoever can decode it brings it as WAV.
  return { bytes: await wavOf(buffer), type: 'audio/wav' };
}

/** By its name: what else lies in a folder is not meant. */
export const isSong = ({ name }: File): boolean =>
  /^[^.].*\.(wav|wave|aiff?|aifc|mp3|flac|ogg|oga|opus|m4a|mp4)$/i.test(name);

/** Files of what was dropped, folders looked through. */
export async function filesOf(items: DataTransferItemList): Promise<File[]> {
  // All of them are asked for before anything waits: afterwards the browser has forgotten them.
  const found = [...items].map((item) => ({ entry: item.webkitGetAsEntry(), file: item.getAsFile() }));
  return (await Promise.all(found.map(({ entry, file }) => (entry ? within(entry) : file ? [file] : [])))).flat();
}

async function within(entry: FileSystemEntry): Promise<File[]> {
  if (entry.isFile) {
    const file = await new Promise<File>((resolve, reject) => (entry as FileSystemFileEntry).file(resolve, reject));
    return file.name.startsWith('.') ? [] : [file];
  }
  const reader = (entry as FileSystemDirectoryEntry).createReader();
  const found: File[] = [];
  for (;;) {
    const some = await new Promise<FileSystemEntry[]>((resolve, reject) => reader.readEntries(resolve, reject));
    if (some.length === 0) break;
    for (const one of some) found.push(...(await within(one)));
  }
  return found.filter(isSong);
}
