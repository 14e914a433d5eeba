import type { ElementHandle, Page } from 'puppeteer-core';

/**
 * What bears a role and an accessible name, found in the page itself. Asking the browser for its tree of accessibility
 * builds the whole tree anew for each question, which costs a busy page a third of a second.
 */
export async function called(page: Page, role: string, name: string): Promise<ElementHandle<Element> | null> {
  const handle = await page.evaluateHandle(findCalled, role, name),
    found = handle.asElement() as ElementHandle<Element> | null;
  if (!found) await handle.dispose();
  return found;
}

/** In the page. Roles as HTML-AAM has them, names as accname 1.2 has them, as far as the application goes. */
function findCalled(role: string, name: string): Element | null {
  const TAGS: Readonly<Record<string, string>> = {
    button: 'button,summary',
    slider: 'input[type=range]',
    group: 'fieldset,details',
    dialog: 'dialog',
    region: 'section',
    heading: 'h1,h2,h3,h4,h5,h6',
    textbox: 'input:not([type]),input[type=text],textarea',
    checkbox: 'input[type=checkbox]',
    option: 'option',
    combobox: 'select',
    list: 'ul,ol',
    image: 'img',
    link: 'a[href]',
  };
  const NAMED_BY_CONTENT = ['button', 'menuitem', 'option', 'heading', 'switch', 'checkbox', 'link', 'tab'];
  const rendered = (e: Element): boolean => e.checkVisibility({ visibilityProperty: true });
  const content = (e: Element): string => {
    let text = '';
    for (const child of e.childNodes) {
      if (child instanceof Text) text += child.data;
      if (!(child instanceof Element) || child.ariaHidden === 'true' || !rendered(child)) continue;
      const said = child.ariaLabel ?? child.getAttribute('alt') ?? content(child);
      text += getComputedStyle(child).display.startsWith('inline') ? said : ` ${said} `;
    }
    return text;
  };
  const nameOf = (e: Element): string => {
    const by = (e.getAttribute('aria-labelledby') ?? '').split(/\s+/).filter(Boolean);
    if (by.length)
      return by
        .map((id) => document.getElementById(id))
        .map((l) => (l ? (l.ariaLabel ?? content(l)) : ''))
        .join(' ');
    if (e.ariaLabel) return e.ariaLabel;
    const labels = (e as HTMLInputElement).labels;
    if (labels?.length) return [...labels].map(content).join(' ');
    if (NAMED_BY_CONTENT.includes(role)) {
      const said = content(e);
      if (said.trim()) return said;
    }
    return e.getAttribute('alt') ?? e.getAttribute('title') ?? e.getAttribute('placeholder') ?? '';
  };
  const roles = role === 'image' ? '[role=img],[role=image]' : `[role=${role}]`,
    tags = TAGS[role];
  for (const e of document.querySelectorAll(tags ? `${roles},:is(${tags}):not([role])` : roles))
    if (
      nameOf(e).replace(/\s+/g, ' ').trim() === name &&
      rendered(e) &&
      !e.closest('[aria-hidden=true],[inert]')
    )
      return e;
  return null;
}
