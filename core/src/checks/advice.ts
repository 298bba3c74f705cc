/** What to do about a finding, by its code. */
import type { Problem } from '../model/problem';

const advice: Readonly<Record<string, string>> = {
  'supply.none': 'Close the switch that cuts it off, or connect it to a bus with a source.',
  'terminal.open': 'Connect the free end, or delete the element.',
  'voltage.rated': 'Check the rated voltage on the nameplate and the level of the bus.',
  'level.mixed': 'Put a transformer between, or correct the nominal voltage of one bus.',
  'level.line': 'Correct the nominal voltage at one of its ends.',
  'level.unknown': 'Connect it to a bus, which tells the voltage.',
  'clock.loop': 'Check the vector groups around the ring: their clock numbers must add up.',
  'ratio.uncommon': 'Check both parts of the impedance against the data sheet.',
  'earthing.none': 'Earth a neutral, add an earthing transformer, or leave it if the network is meant to be isolated.',
  'zeroSequence.missing': 'Fill in the zero-sequence data, from a test report or the data sheet.',
  'tower.data': 'Complete the conductors of the tower.',
  'coupling.data': 'Check where the common stretch begins and ends.',
  'rating.breaking': 'Take a device that breaks more, or lower the fault level.',
  'rating.current': 'Take the next size, or check the load.',
  'protection.none': 'Place a current transformer and a relay, and let the relay trip the breaker.',
  'data.assumed': 'Select them, replace what is known, and confirm the rest.',
  'relay.ct': 'Choose the current transformer on the card of the relay.',
  'relay.trips': 'Choose the breaker on the card of the relay.',
  'relay.functions': 'Add a function on the card of the relay, or switch one on.',
  'relay.current': 'Check where its current transformer stands, and which side it protects.',
  'setting.step': 'Take the next step that the device has.',
  'setting.sensitivity': 'Lower the pickup, or take another kind of protection.',
  'grading.short': 'Raise the upper curve or lower the lower one; the bench proposes a multiplier.',
  'grading.blind': 'Lower the pickup of the device that does not see the fault.',
};

export const advised = (problem: Problem): Problem => {
  const todo = problem.todo ?? advice[problem.code];
  return todo ? { ...problem, todo } : problem;
};
