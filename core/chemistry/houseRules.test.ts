import { lowestVoltageV, presetKeys, presetRules, ruleBook, ruleKeys } from './houseRules';

test.each(presetKeys)('preset %s stays within every range and orders its duties', (preset) => {
  const rules = presetRules(preset);
  ruleKeys.forEach((key) => {
    expect(rules[key]).toBeGreaterThanOrEqual(ruleBook[key].least);
    expect(rules[key]).toBeLessThanOrEqual(ruleBook[key].most);
  });
  expect(rules.surgeHealth).toBeGreaterThan(rules.steadyHealth);
  expect(rules.steadyHealth).toBeGreaterThan(rules.lightHealth);
  expect(rules.surgeCRate).toBeGreaterThan(rules.steadyCRate);
  expect(rules.spreadOutV).toBeGreaterThan(rules.spreadAttentionV);
});

test('common practice: the default keeps cylindrical lithium above 2.8 V, pouch above 3.0 V, nickel above 1.0 V', () => {
  const rules = presetRules('workshop');
  expect(lowestVoltageV('li-ion', rules)).toBe(2.8);
  expect(lowestVoltageV('lipo', rules)).toBe(3);
  expect(lowestVoltageV('lfp', rules)).toBe(2.5);
  expect(lowestVoltageV('nimh', rules)).toBe(1);
});

test('careful is nowhere bolder than thrifty on health and rescue', () => {
  const [careful, thrifty] = [presetRules('careful'), presetRules('thrifty')];
  expect(careful.rescuesAllowed).toBe(0);
  expect(thrifty.rescuesAllowed).toBe(2);
  expect(careful.steadyHealth).toBeGreaterThan(thrifty.steadyHealth);
});
