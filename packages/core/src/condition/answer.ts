/** What a test says of a record. `unjudged`: a value that the test needs can't be read. */
export type Answer = 'yes' | 'no' | 'unjudged';

/** All of them: one "no" settles it, else one "unjudged" leaves it open. None at all is "yes". */
export function allOf(answers: Iterable<Answer>): Answer {
  let result: Answer = 'yes';
  for (const answer of answers) {
    if (answer === 'no') return 'no';
    if (answer === 'unjudged') result = 'unjudged';
  }
  return result;
}

/** Any of them: one "yes" settles it, else one "unjudged" leaves it open. None at all is "no". */
export function anyOf(answers: Iterable<Answer>): Answer {
  let result: Answer = 'no';
  for (const answer of answers) {
    if (answer === 'yes') return 'yes';
    if (answer === 'unjudged') result = 'unjudged';
  }
  return result;
}

/** The opposite; what can't be judged stays so. */
export function notOf(answer: Answer): Answer {
  if (answer === 'unjudged') return answer;
  return answer === 'yes' ? 'no' : 'yes';
}
