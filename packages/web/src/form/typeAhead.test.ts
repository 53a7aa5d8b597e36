import { choiceTyped } from './controls/typeAhead';

describe('what is typed on radio buttons', () => {
  const waters = ['Clear', 'Cloudy', 'Élan', 'Brown'];
  const steps = Array.from({ length: 11 }, (_, n) => String(n));
  test.each<[typed: string, choices: readonly string[], chosen: number, at: number]>([
    ['c', waters, -1, 0],
    ['clo', waters, 0, 1],
    ['cc', waters, 0, 1],
    ['ccc', waters, 1, 0],
    ['e', waters, -1, 2],
    ['2', waters, -1, 1],
    ['5', waters, -1, -1],
    ['0', waters, -1, -1],
    ['x', waters, 1, -1],
    // Figures that are themselves choices mean those.
    ['1', steps, -1, 1],
    ['10', steps, 1, 10],
    ['0', steps, -1, 0],
    ['y', ['Yes', 'No'], -1, 0],
    ['N', ['Yes', 'No'], 0, 1],
    ['11', ['1', '2'], 0, 0],
  ])('‘%s’ of %j', (typed, choices, chosen, at) => {
    expect(choiceTyped(choices, typed, chosen)).toBe(at);
  });
});
