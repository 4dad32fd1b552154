// A transform for the AssemblyScript compiler: `for (init; test; step) body` becomes `{ init; if (test) do { body; step
// } while (test) }`. V8 brings what does not change out of a loop only where the loop's test stands at its end;
// elsewhere it even moves what was computed before the loop into it, so that constants and addresses are made again for
// every pixel.
import { Node, NodeKind } from "assemblyscript";
import { Transform } from "assemblyscript/transform";

const LOOPS = new Set([NodeKind.For, NodeKind.ForOf, NodeKind.While, NodeKind.Do]);

const childrenOf = (node) =>
  Object.values(node)
    .flat()
    .filter((child) => child instanceof Node);

/** Whether a `continue` in the body is this loop's own: it would pass the step by. */
function continues(node) {
  if (node.kind === NodeKind.Continue) return true;
  return !LOOPS.has(node.kind) && childrenOf(node).some(continues);
}

function inverted(loop) {
  const { initializer, condition, incrementor, body, range } = loop;
  if (!condition || continues(body)) return loop;
  const round = incrementor ? [body, Node.createExpressionStatement(incrementor)] : [body];
  const repeated = Node.createDoStatement(Node.createBlockStatement(round, range), condition, range);
  const guarded = Node.createIfStatement(condition, repeated, null, range);
  return Node.createBlockStatement(initializer ? [initializer, guarded] : [guarded], range);
}

/** Inverts every loop under a node, inner ones first. */
function walk(node) {
  for (const [key, value] of Object.entries(node)) {
    if (Array.isArray(value)) value.forEach((child, i) => child instanceof Node && (value[i] = walk(child)));
    else if (value instanceof Node && key !== "parent") node[key] = walk(value);
  }
  return node.kind === NodeKind.For ? inverted(node) : node;
}

export default class InvertLoops extends Transform {
  afterParse(parser) {
    for (const source of parser.sources) if (!source.internalPath.startsWith("~lib/")) source.statements.forEach(walk);
  }
}
