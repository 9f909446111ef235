/**
 * How files reach the disk: atomically, read back, never half-written; and how a frame's files are
 * named and written.
 */
package posada.formats.files;
