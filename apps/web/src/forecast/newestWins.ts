/** Something that is asked one thing at a time and answers each. */
export interface Asked<Order> {
  ask(order: Order): void;
  /** Its answer to the last thing it was asked has come. */
  answered(): void;
}

/** One order under way at a time; of those that come meanwhile only the newest is kept. */
export function newestWins<Order>(send: (order: Order) => void): Asked<Order> {
  let busy = false;
  let next: { order: Order } | null = null;
  return {
    ask(order) {
      if (busy) next = { order };
      else {
        busy = true;
        send(order);
      }
    },
    answered() {
      busy = false;
      if (!next) return;
      const { order } = next;
      next = null;
      busy = true;
      send(order);
    },
  };
}
