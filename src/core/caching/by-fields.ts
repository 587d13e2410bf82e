/**
 * What is known of flat plain data, by all of its fields in their order: quicker than by its text where these are numbers with
 * fractions. Fields must always be written in the same order, and none left out.
 */
export class ByFields<V> {
  private readonly root: Node<V> = { next: new Map(), known: undefined };

  /** What is known of a value; made and kept where nothing is yet. */
  of(value: object, make: () => V): V {
    let node = this.root;
    for (const key in value) {
      const field = (value as Readonly<Record<string, unknown>>)[key];
      let next = node.next.get(field);
      if (next === undefined) {
        next = { next: new Map(), known: undefined };
        node.next.set(field, next);
      }
      node = next;
    }
    node.known ??= make();
    return node.known;
  }
}

interface Node<V> {
  next: Map<unknown, Node<V>>;
  known: V | undefined;
}
