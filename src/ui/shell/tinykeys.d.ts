// The package's own types stand where its `exports` do not lead.
declare module "tinykeys" {
  export type KeyBindingPress = [mods: string[], key: string | RegExp];
  export function parseKeybinding(text: string): KeyBindingPress[];
  export function matchKeyBindingPress(event: KeyboardEvent, press: KeyBindingPress): boolean;
}
