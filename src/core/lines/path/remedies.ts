/** What to do about a link that does not live, in plain words. */
export interface Advice {
  readonly title: string;
  readonly words: string;
}

const ADVICE = {
  MASTER: [
    'The masters are down',
    'Press Dark again, or raise the grand master: everything is computed and sent, but as nothing.',
  ],
  NOTHING_PLAYS: ['Nothing plays', 'Start a scene, or light units by hand or with a test signal.'],
  ENGINE: [
    'The engine does not answer',
    'It restarts by itself within two seconds. If it does not, look at the messages of the start command.',
  ],
  SHOW_FAULTS: [
    'The show could not be loaded',
    'The last good one is still sent. Take the last edits back with undo, or restore a version.',
  ],
  SLOW: [
    'The machine does not keep up',
    'Close other programs, lower the frame rate in Settings, or give outputs a cap of their own.',
  ],
  NO_ROUTE: ['The universe goes nowhere', 'Choose an output and add the universe to it.'],
  OTHER_WINS: [
    'Somebody else sends the same universe and wins',
    'Switch the other source off, raise the priority of this output, or move one of them to another universe.',
  ],
  OTHER_SOURCE: [
    'Somebody else sends the same universe',
    'Ours wins as long as it runs; when it stops, the other takes over.',
  ],
  OFF: ['It is switched off', 'Tick “Sends” in its details.'],
  NO_ADDRESS: [
    'It has no address to send to',
    'Type the address of the device, take a found one, or use multicast (sACN).',
  ],
  SEND_ERROR: [
    'Packets do not leave, or come back',
    'Check cable and address. “Nobody listens” means that the machine is there and the port is closed: another program, or a firewall.',
  ],
  NO_INTERFACE: [
    'The own network interface is gone',
    'Plug the cable or adapter in again, or choose another interface. It goes on by itself when it is back.',
  ],
  SERIAL: [
    'The serial interface does not take frames',
    'Plug it in again, choose its port anew, or end the program that holds it. It opens by itself when it is back.',
  ],
  HUB: ['The hub does not take colours', 'Check its power and network; pair again when it has forgotten us.'],
  SUBNET: [
    'The device is on another network',
    'Its address and ours differ in the part that the netmask covers: give one of them an address of the same network.',
  ],
  NO_PROOF: [
    'Nobody can tell whether it arrives',
    'sACN devices do not answer. Look at the lamp of the device, or run a test signal. If nothing arrives: the universe number (some count from 0), a switch that blocks multicast, a firewall.',
  ],
  NOT_ARRIVING: [
    'Packets leave and do not arrive',
    'A firewall on the way, a wrong universe number, or the device is off. Try the other address, then a test signal.',
  ],
  NO_SUCH_PORT: [
    'The device has no port for this universe',
    'Art-Net counts from 0 and sACN from 1: the number on the wire may be one too high. Set it here or on the device.',
  ],
  SILENT: [
    'The device has never answered',
    'Check power, cable and address, and that UDP port 6454 passes the firewall. A device that does not answer polls is sent to all the same.',
  ],
  LOST: [
    'The device does not answer any more',
    'Check its power and cable. It is sent to all the same, and found again by itself.',
  ],
  MERGING: [
    'Two sources meet at the device',
    'It merges them or drops one. Switch one off, or give the spare a lower priority.',
  ],
} as const satisfies Record<string, readonly [title: string, words: string]>;

/** The advice of a kind; `about` names what it is about. */
export function advise(kind: keyof typeof ADVICE, about = ''): Advice {
  const [title, words] = ADVICE[kind];
  return { title: about === '' ? title : `${title}: ${about}`, words };
}
