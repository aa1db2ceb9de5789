import { readFileSync } from 'node:fs';

const css = readFileSync('ui/theme.css', 'utf8');

/** The colours of one theme by name. */
function coloursOf(selector: string): Record<string, string> {
  const block = css.slice(css.indexOf(selector)).split('}')[0] ?? '';
  return Object.fromEntries(
    [...block.matchAll(/--([a-z-]+): (#[0-9a-f]{6})/g)].map(([, name, value]) => [name, value]),
  );
}

/** Published: WCAG 2.2, relative luminance and contrast ratio. */
function luminance(hex: string): number {
  const [r, g, b] = [1, 3, 5].map((at) => {
    const fraction = parseInt(hex.slice(at, at + 2), 16) / 255;
    return fraction <= 0.04045 ? fraction / 12.92 : ((fraction + 0.055) / 1.055) ** 2.4;
  }) as [number, number, number];
  return 0.2126 * r + 0.7152 * g + 0.0722 * b;
}

const contrast = (a: string, b: string): number => {
  const [high, low] = [luminance(a), luminance(b)].sort((x, y) => y - x) as [number, number];
  return (high + 0.05) / (low + 0.05);
};

test('published: black on white has a contrast of 21', () => {
  expect(contrast('#000000', '#ffffff')).toBeCloseTo(21, 6);
});

describe.each([
  ['light', "[data-bs-theme='light'] {"],
  ['dark', "[data-bs-theme='dark'] {"],
])('%s', (_, selector) => {
  const colours = coloursOf(selector);
  const of = (name: string): string => {
    const value = colours[name];
    if (!value) throw new Error(`no colour ${name}`);
    return value;
  };

  test.each(['ink', 'soft', 'ember', 'sea', 'straw', 'plum'])('%s is legible on paper and sheet (4.5)', (name) => {
    expect(contrast(of(name), of('paper'))).toBeGreaterThanOrEqual(4.5);
    expect(contrast(of(name), of('sheet'))).toBeGreaterThanOrEqual(4.5);
  });

  test('ink and soft are legible on the watch and on the wash of what is hot', () => {
    expect(contrast(of('ink'), of('deep'))).toBeGreaterThanOrEqual(7);
    expect(contrast(of('soft'), of('deep'))).toBeGreaterThanOrEqual(4.5);
    expect(contrast(of('ink'), of('ember-wash'))).toBeGreaterThanOrEqual(4.5);
  });

  test('marks stand off from what lies behind them (3)', () => {
    expect(contrast(of('sea'), of('sea-wash'))).toBeGreaterThanOrEqual(3);
    expect(contrast(of('ember'), of('ember-wash'))).toBeGreaterThanOrEqual(3);
  });
});
