import { Kiln } from './kiln';

export default {
  name: 'old kiln',
  create() {
    const kiln = new Kiln();
    return {
      actions: { kiln: { fire: (p: number) => kiln.fire(p), stop: () => kiln.stop(), openDoor: () => kiln.openDoor(), closeDoor: () => kiln.closeDoor() } },
      tasks: { kiln: { heat: {}, hold: {}, cool: {} } },
      state: { kiln: { degrees: () => kiln.degrees, goal: () => kiln.goal, phase: () => kiln.phase, door: () => kiln.door, beeps: () => kiln.beeps } },
      derived: { kiln: { done: () => kiln.done } },
    };
  },
};
