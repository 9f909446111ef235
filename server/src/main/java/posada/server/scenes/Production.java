package posada.server.scenes;

/** The folder of work for one film or job. */
public record Production(long id, String name, double frameRate, int width, int height) {}
