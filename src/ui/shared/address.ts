/**
 * Notes in the address where one is, for a reload and for the way back; nothing is navigated by it. The router hears
 * only of entries that are not marked as its own, and takes one for a navigation that replaces the one under way: a
 * view that was asked for meanwhile would never come. So the entry keeps its marks.
 */
export const noteAddress = (address: string): void => window.history.replaceState(window.history.state, "", address);
