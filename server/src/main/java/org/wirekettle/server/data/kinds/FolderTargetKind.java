package org.wirekettle.server.data.kinds;

import jakarta.enterprise.context.ApplicationScoped;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import java.util.regex.Pattern;
import org.wirekettle.connector.Field;
import org.wirekettle.connector.RecordSource;
import org.wirekettle.connector.RecordTarget;
import org.wirekettle.connector.file.FolderSource;
import org.wirekettle.connector.file.FolderTarget;
import org.wirekettle.server.common.Home;
import org.wirekettle.server.common.Wrong;
import org.wirekettle.server.data.Data.TargetSettings;
import org.wirekettle.server.data.TargetKind;

/** A folder of the target folder, with a file for each row. */
@ApplicationScoped
public class FolderTargetKind implements TargetKind {
    private static final Pattern NAME = Pattern.compile("[\\p{L}\\p{N}][\\p{L}\\p{N} ._-]{0,80}");

    private final Home home;

    FolderTargetKind(Home home) {
        this.home = home;
    }

    @Override
    public String name() {
        return "folder";
    }

    @Override
    public void check(TargetSettings s) {
        if (s.file() == null || !NAME.matcher(s.file()).matches()) {
            throw Wrong.input("target.file", "A folder's name has letters, digits, blanks, dots, _ and -.");
        }
        if (s.replace() == null) {
            throw Wrong.input("target.replace", "Choose whether a file that is there makes room for one of its name.");
        }
        if (Files.exists(folder(s)) && !Files.isDirectory(folder(s))) {
            throw Wrong.input("target.file", "There is a file named " + s.file() + ".");
        }
    }

    private Path folder(TargetSettings s) {
        return home.targets().resolve(s.file());
    }

    @Override
    public RecordTarget open(TargetSettings s, String environment, List<Field> fields) {
        return new FolderTarget(folder(s), Boolean.TRUE.equals(s.replace()));
    }

    @Override
    public List<Field> columns(TargetSettings s, String environment) {
        return List.of(
                Field.column("name", "name", "string", true, true),
                Field.column("text", "text", "string", true, false));
    }

    @Override
    public Optional<RecordSource> written(TargetSettings s, String environment) {
        return Optional.of(new FolderSource(folder(s), false))
                .filter(f -> Files.isDirectory(folder(s)))
                .map(f -> f);
    }

    @Override
    public Optional<RecordSource> newest(TargetSettings s, String environment) {
        return Optional.of(new FolderSource(folder(s), true))
                .filter(f -> Files.isDirectory(folder(s)))
                .map(f -> f);
    }

    @Override
    public Optional<String> file(TargetSettings s) {
        return Optional.of(s.file());
    }
}
