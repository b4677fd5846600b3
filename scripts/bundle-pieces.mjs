import { readdirSync, rmSync } from 'node:fs';
import path from 'node:path';

/**
 * Takes away what earlier builds left in a folder: pieces are named by what is in them. Only afterwards, so that a call
 * that runs meanwhile finds its own.
 */
export function removeEarlierPieces(root, folder, { outputs }) {
  for (const name of readdirSync(path.join(root, folder)))
    if (!outputs[`${folder}/${name}`] && /-[A-Z0-9]{8}\.js(\.map)?$/.test(name)) rmSync(path.join(root, folder, name));
}
