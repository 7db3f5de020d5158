import fc from 'fast-check';
import { allOf, type Answer, anyOf, notOf } from './answer';

const answers = fc.array(fc.constantFrom<Answer>('yes', 'no', 'unjudged'));

test('all(no, unjudged) is no; any(yes, unjudged) is yes; not unjudged is unjudged', () => {
  expect(allOf(['unjudged', 'no'])).toBe('no');
  expect(anyOf(['unjudged', 'yes'])).toBe('yes');
  expect(allOf(['unjudged', 'yes'])).toBe('unjudged');
  expect(anyOf(['unjudged', 'no'])).toBe('unjudged');
  expect(notOf('unjudged')).toBe('unjudged');
});

test('De Morgan holds with three answers, and order never matters', () => {
  fc.assert(
    fc.property(answers, (list) => {
      expect(notOf(allOf(list))).toBe(anyOf(list.map(notOf)));
      expect(allOf([...list].reverse())).toBe(allOf(list));
      expect(anyOf([...list].reverse())).toBe(anyOf(list));
    }),
  );
});

test('what is unjudged settles nothing: learning it either way never changes an answer that was settled', () => {
  fc.assert(
    fc.property(answers, (list) => {
      for (const learned of ['yes', 'no'] as const) {
        const known = list.map((answer) => (answer === 'unjudged' ? learned : answer));
        for (const join of [allOf, anyOf]) if (join(list) !== 'unjudged') expect(join(known)).toBe(join(list));
      }
    }),
  );
});
