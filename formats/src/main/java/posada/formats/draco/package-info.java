/** Meshes compressed after the open Draco bitstream. */
package posada.formats.draco;
