// Promises, as they were written before async functions.
export function Archive(ask) {
  this.ask = ask;
  this.photos = [];
  this.page = 0;
  this.more = true;
  this.token = 'first';
  this.loading = false;
  this.problem = null;
  this.stars = [];
  this.turn = 0;
}

Archive.prototype.load = function () {
  var that = this;
  if (that.loading || !that.more) return false;
  that.loading = true;
  that.problem = null;
  that.fetchPage(that.turn);
  return true;
};

Archive.prototype.fetchPage = function (turn) {
  var that = this;
  return that.ask.page({ number: that.page + 1, token: that.token }).then(
    function (answer) {
      if (turn !== that.turn) return;
      that.photos = answer.photos.reduce(function (all, photo) {
        var known = all.some(function (p) { return p.key === photo.key; });
        return known ? all.map(function (p) { return p.key === photo.key ? photo : p; }) : all.concat([photo]);
      }, that.photos);
      that.page += 1;
      that.more = answer.more;
      that.loading = false;
    },
    function (error) {
      if (turn !== that.turn) return;
      if (error.status === 401) return that.renew(turn);
      that.loading = false;
      that.problem = error.message;
    },
  );
};

Archive.prototype.renew = function (turn) {
  var that = this;
  return that.ask.renew().then(
    function (token) {
      if (turn !== that.turn) return;
      that.token = token;
      if (that.more) return that.fetchPage(turn);
    },
    function () {
      if (turn !== that.turn) return;
      that.loading = false;
      that.problem = 'Please sign in again.';
    },
  );
};

Archive.prototype.star = function (key) {
  if (!this.photos.some(function (p) { return p.key === key; })) return false;
  var at = this.stars.indexOf(key);
  this.stars = at < 0 ? this.stars.concat([key]) : this.stars.filter(function (s) { return s !== key; });
  return true;
};

Archive.prototype.restart = function () {
  this.turn += 1;
  this.photos = [];
  this.page = 0;
  this.more = true;
  this.loading = false;
  this.problem = null;
};
