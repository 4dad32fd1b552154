/**
 * The smallest and largest of any number of values: a call that takes each as an argument ends where the stack does.
 * Infinite for none.
 */
export function extremesOf(values: Iterable<number>): { least: number; most: number } {
  let [least, most] = [Infinity, -Infinity];
  for (const value of values) {
    if (value < least) least = value;
    if (value > most) most = value;
  }
  return { least, most };
}
