/** What the view of a scene is sent as. */
package posada.formats.space;
