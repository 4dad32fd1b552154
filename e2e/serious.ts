import AxeBuilder from "@axe-core/playwright";
import type { Page } from "@playwright/test";

/** What keeps people from using a page: findings that are serious or worse. */
export const serious = async (page: Page): Promise<string[]> =>
  (await new AxeBuilder({ page }).analyze()).violations
    .filter(({ impact }) => impact === "serious" || impact === "critical")
    .map(({ id, nodes }) => `${id}: ${nodes.map(({ html }) => html.slice(0, 160)).join(" | ")}`);
