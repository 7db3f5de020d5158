import { meanwhile } from './rows';

const failing = (why: string) => (): never => {
  throw new Error(why);
};

test('what fails meanwhile waits for the statements under way, so that none is sent behind the rollback', async () => {
  const sent: string[] = [];
  const pause = (ms: number) => new Promise((resume) => setTimeout(resume, ms));
  const twoStatements = async (): Promise<void> => {
    await pause(20);
    sent.push('first');
    await pause(20);
    sent.push('second');
  };
  await expect(meanwhile(twoStatements(), failing('appraised wrong'))).rejects.toThrow('appraised wrong');
  expect(sent).toEqual(['first', 'second']);
  await expect(meanwhile(Promise.reject(new Error('refused')), failing('both'))).rejects.toThrow('refused');
  expect(await meanwhile(Promise.resolve(), () => 7)).toBe(7);
});
