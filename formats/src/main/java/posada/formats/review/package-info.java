/** Sequences of pictures in folders, read to be looked at and checked. */
package posada.formats.review;
