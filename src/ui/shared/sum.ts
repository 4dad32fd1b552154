/**
 * Reads a typed number, or a sum of numbers: "1/3", "2*1.5", "-(4 + 2)". A comma is a decimal point. NaN for what is
 * none. Grammar: sum = product (+ or - product)*; product = factor (* or / factor)*; factor = number, (sum), or a
 * signed factor.
 */
export function readSum(text: string): number {
  const source = text.replaceAll(",", ".").replaceAll("−", "-").replaceAll("×", "*").replaceAll(/\s+/g, "");
  let at = 0;
  const takes = (signs: string) => (signs.includes(source[at] ?? " ") ? source[at++]! : null);
  const factor = (): number => {
    const sign = takes("+-");
    if (sign) return sign === "-" ? -factor() : factor();
    if (takes("(")) {
      const inner = sum();
      return takes(")") ? inner : NaN;
    }
    const [digits] = /^(\d+\.?\d*|\.\d+)(e[+-]?\d+)?/i.exec(source.slice(at)) ?? [""];
    at += digits.length;
    return digits ? Number(digits) : NaN;
  };
  const chain = (signs: string, next: () => number, join: (a: number, sign: string, b: number) => number): number => {
    let value = next();
    for (let sign = takes(signs); sign; sign = takes(signs)) value = join(value, sign, next());
    return value;
  };
  const product = () => chain("*/", factor, (a, sign, b) => (sign === "*" ? a * b : a / b));
  const sum = (): number => chain("+-", product, (a, sign, b) => (sign === "+" ? a + b : a - b));
  const value = sum();
  return at === source.length && source && Number.isFinite(value) ? value : NaN;
}
