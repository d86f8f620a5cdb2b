import { Archive } from './archive.js';

export default {
  name: 'old archive',
  abortsCalls: false,
  create({ services }) {
    const a = new Archive(services.archive);
    return {
      actions: { photos: { star: (key) => a.star(key), restart: () => a.restart() } },
      tasks: { photos: { load: { start: () => a.load() }, renew: {} } },
      state: { photos: {
        photos: () => a.photos, page: () => a.page, more: () => a.more, token: () => a.token,
        loading: () => a.loading, problem: () => a.problem, stars: () => a.stars,
      } },
      derived: { photos: { starred: () => a.photos.filter((p) => a.stars.includes(p.key)).length } },
    };
  },
};
