// The mast sends gusts.

const { terminal } = require('./session');

module.exports = function onMessage(message) {
  terminal.gust(message.speed);
};
