/**
 * The simulated shoot: the stand-in for camera, lens, mirror ball, chart and tape measure. Everything is made by code
 * from fixed seeds: the slipway of the show <i>Low Water</i>, the light over it, the camera's walk, and the models.
 * What it writes as truth is read by tests only.
 */
package dasein.shoot;
