package dasein.app.stage;

/** A part of the shot as it is after an edit, and the edit in words, as the history shows it. */
public record Edited<T>(T value, String said) {}
