import { complaintAnswerText, complaintText, blamedText } from '@/words/complaints';
import { answersTo, blamedBy, complaints } from './complaints';

test.each(complaints)('%s: few causes, one test, an answer for each', (complaint) => {
  const { name, causes, test: separates } = complaintText(complaint);
  expect([name, causes, separates].every((text) => text.length > 5)).toBe(true);
  const answers = answersTo(complaint);
  expect(answers.length).toBeGreaterThan(1);
  for (const answer of answers) {
    expect(complaintAnswerText(answer).length).toBeGreaterThan(3);
    const blamed = blamedBy(complaint, answer);
    expect(blamed && blamedText(blamed)).toMatch(/\.$/);
  }
});

test('a connection error on every pack is the cable (common practice); another complaint’s answer is none', () => {
  expect(blamedBy('no-connection', 'same-with-another-pack')).toBe('cable');
  expect(blamedBy('no-connection', 'the-pack')).toBeNull();
  expect(blamedBy('too-warm', 'the-pack')).toBe('stop');
});
