package dasein.app;

import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.sql.Statement;

/** A database of its own for each test class, in the cluster that {@code ./dasein test} started. */
public final class TestDatabase {
    private TestDatabase() {}

    public static int port() {
        String p = System.getenv("DASEIN_DB_PORT");
        if (p == null)
            throw new IllegalStateException("run the tests by ./dasein test: it starts the database they need");
        return Integer.parseInt(p);
    }

    /** @return JDBC address of a new, empty database */
    public static String make(String name) {
        try (Connection c = DriverManager.getConnection(
                        "jdbc:postgresql://127.0.0.1:" + port() + "/postgres",
                        "dasein",
                        System.getenv("DASEIN_DB_PASSWORD"));
                Statement s = c.createStatement()) {
            s.execute("drop database if exists " + name + " with (force)");
            s.execute("create database " + name);
        } catch (SQLException e) {
            throw new IllegalStateException(e);
        }
        return "jdbc:postgresql://127.0.0.1:" + port() + "/" + name;
    }
}
