interface Card {
  readonly device: string;
  readonly name: string;
}

/** Sound cards of the machine, as they are when a component asks: to listen to, and to play on. */
export class SoundCards {
  ins = $state.raw<readonly Card[]>([]);
  outs = $state.raw<readonly Card[]>([]);

  constructor() {
    void fetch('/api/sound-cards')
      .then((answer) => answer.json())
      .then(({ cards, players }: { cards: Card[]; players: Card[] }) => {
        this.ins = cards;
        this.outs = players;
      })
      .catch(() => undefined);
  }
}
