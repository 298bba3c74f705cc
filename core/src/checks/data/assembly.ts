/** What the assembly of the network finds: no supply, levels that do not fit, earthing, towers and couplings. */
import { doubtsOf } from '../../assembly/doubts';
import { dataRule, wholeNetwork } from '../check';

export const assemblyRule = dataRule({
  id: 'data.assembly',
  title: 'Network as drawn',
  advice: {
    'supply.none': 'Close the switch that cuts it off, or connect it to a bus with a source.',
    'level.mixed': 'Put a transformer between, or correct the nominal voltage of one bus.',
    'level.line': 'Correct the nominal voltage at one of its ends.',
    'level.unknown': 'Connect it to a bus, which tells the voltage.',
    'clock.loop': 'Check the vector groups around the ring: their clock numbers must add up.',
    'ratio.uncommon': 'Check both parts of the impedance against the data sheet.',
    'earthing.none':
      'Earth a neutral, add an earthing transformer, or leave it if the network is meant to be isolated.',
    'tower.data': 'Complete the conductors of the tower.',
    'coupling.data': 'Check where the common stretch begins and ends.',
  },
  many: { 'supply.none': 'are connected to no source' },
  subjects: wholeNetwork,
  faults: ({ studies }) => {
    const { assembly } = studies.max;
    return [...assembly.problems, ...doubtsOf(assembly)];
  },
});
