/** The Scene station: productions, imported revisions of scenes, pictures of their cameras. */
package posada.server.scenes;
