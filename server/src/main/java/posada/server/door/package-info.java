/** What every request passes first: who may ask, from where, how much, and in what form. */
package posada.server.door;
