// Texts for the screen. What these functions are given is written nowhere.

export function describeWind(of) {
  return `Wind ${of.windSpeed} m/s, limit ${of.windLimit}`;
}

export function describeCar(car) {
  return `${car.plate} in lane ${car.lane}`;
}
