import type { Posture } from "../hands/postures.ts";
import { type Assembled, makeShape } from "./assemble.ts";
import type { RefusalList } from "./gate.ts";
import type { Contact, HandShape, Refusal } from "./types.ts";

/** Shapes a hand can take, and what it was refused. */
export interface Possible<P extends Posture = Posture> {
  readonly shapes: readonly HandShape<P>[];
  readonly refusals: readonly Refusal[];
  /** A shape with only some of its contacts, for a player who rules others out. */
  withOnly(shape: HandShape<P>, contacts: readonly Contact[]): HandShape<P>;
}

/** The shapes of one situation; refusals are put into words when somebody asks for them. */
export class ShapeList<P extends Posture = Posture> implements Possible<P> {
  readonly shapes: readonly HandShape<P>[];
  private refused: Refusal[] | null = null;

  constructor(
    private readonly context: Assembled,
    private readonly build: (refusals: RefusalList) => HandShape<P>[],
  ) {
    this.shapes = build(null);
  }

  get refusals(): readonly Refusal[] {
    if (this.refused === null) {
      this.refused = [];
      this.build(this.refused);
    }
    return this.refused;
  }

  withOnly(shape: HandShape<P>, contacts: readonly Contact[]): HandShape<P> {
    return makeShape(this.context, contacts, shape.posture, { hold: shape.hold, perStroke: shape.perStroke });
  }
}
