import { crc32, deflateRawSync } from 'node:zlib';

/** A zip of zeros, packed fast: what a bomb is made of. Each member unpacks to `bytes` zeros. */
export function zeroBomb(names: readonly string[], bytes: number): Uint8Array {
  const zeros = Buffer.alloc(bytes);
  const packed = deflateRawSync(zeros, { level: 1 });
  const check = crc32(zeros);
  const locals: Buffer[] = [];
  const central: Buffer[] = [];
  let at = 0;
  for (const name of names) {
    const fields = Buffer.alloc(26);
    fields.writeUInt16LE(20, 0);
    fields.writeUInt16LE(8, 4);
    fields.writeUInt32LE(check, 10);
    fields.writeUInt32LE(packed.length, 14);
    fields.writeUInt32LE(bytes, 18);
    fields.writeUInt16LE(name.length, 22);
    const tail = Buffer.alloc(14);
    tail.writeUInt32LE(at, 10);
    central.push(Buffer.from('PK\x01\x02\x14\x00', 'latin1'), fields, tail, Buffer.from(name));
    const local = Buffer.concat([Buffer.from('PK\x03\x04', 'latin1'), fields, Buffer.from(name), packed]);
    locals.push(local);
    at += local.length;
  }
  const directory = Buffer.concat(central);
  const end = Buffer.alloc(22);
  end.write('PK\x05\x06', 'latin1');
  end.writeUInt16LE(names.length, 8);
  end.writeUInt16LE(names.length, 10);
  end.writeUInt32LE(directory.length, 12);
  end.writeUInt32LE(at, 16);
  return Buffer.concat([...locals, directory, end]);
}
