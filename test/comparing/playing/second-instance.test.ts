import { expect, test } from '@jest/globals';
import { Player } from '../../../src/comparing/playing/player.js';
import { observedOf } from '../../../src/comparing/session/observed.js';
import type { Participant } from '../../../src/model/participant.js';
import { modelOf } from '../../helpers.js';
import { savedBoard } from '../saved-board.js';

/** A page script: all of its instances write the title of one page. */
function pageScript() {
  const page = { title: '' };
  let made = 0;
  const participant: Participant = {
    name: 'page',
    create() {
      made += 1;
      let lines = 0;
      return {
        send: () => {
          lines += 1;
          page.title = String(lines);
          return { status: 'done' };
        },
        read: () => ({ board: { lines: page.title } }),
      };
    },
  };
  return { participant, made: () => made };
}

test('a second instance is made anew when the stores are, so that it knows nothing of before', async () => {
  const { participant, made } = pageScript();
  const observed = observedOf(await modelOf(savedBoard));
  const player = new Player(participant, [], false, observed, true, { beside: true });
  player.send({ send: 'board.expect' }, undefined);
  player.send({ send: 'board.expect' }, undefined);
  player.changeStorage({ reopen: true });
  expect(made()).toBe(4);
  player.send({ send: 'board.expect' }, undefined);
  expect(player.read()).toEqual({ board: { lines: '1' } });
});
