import type dgram from 'node:dgram';

/** Closes a socket that may never have opened. */
export function closeQuietly(socket: dgram.Socket): void {
  try {
    socket.close();
  } catch {
    // There is nothing to free.
  }
}

/** A receive buffer for bursts of many universes. */
export function grow(socket: dgram.Socket): void {
  try {
    socket.setRecvBufferSize(1 << 20);
  } catch {
    // The system may allow less.
  }
}
