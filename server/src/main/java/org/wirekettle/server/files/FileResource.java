package org.wirekettle.server.files;

import jakarta.ws.rs.Consumes;
import jakarta.ws.rs.DELETE;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.PUT;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.PathParam;
import jakarta.ws.rs.core.MediaType;
import jakarta.ws.rs.core.Response;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.FileVisitResult;
import java.nio.file.Files;
import java.nio.file.SimpleFileVisitor;
import java.nio.file.attribute.BasicFileAttributes;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import org.wirekettle.attachment.AttachedFiles;
import org.wirekettle.record.PrivateFiles;
import org.wirekettle.server.access.Allow;
import org.wirekettle.server.access.Role;
import org.wirekettle.server.common.Home;
import org.wirekettle.server.common.Wrong;

/** The folder of files: list, take, put, remove. */
@Path("/api/files")
public class FileResource {
    private static final int MAX_LISTED = 2_000;
    private static final int MAX_LOOKED_AT = 200_000;

    private final AttachedFiles files;
    private final Home home;

    FileResource(AttachedFiles files, Home home) {
        this.files = files;
        this.home = home;
    }

    /** @param name with slashes between folders */
    public record FileView(String name, long bytes, Instant changedAt) {}

    /** @param more how many there are beside those listed */
    public record FilesView(List<FileView> files, int more) {}

    /** The newest first. */
    @GET
    public FilesView list() throws IOException {
        java.nio.file.Path folder = home.files();
        List<FileView> all = new ArrayList<>();
        Files.walkFileTree(folder, new SimpleFileVisitor<>() {
            @Override
            public FileVisitResult visitFile(java.nio.file.Path f, BasicFileAttributes a) {
                if (a.isRegularFile() && !AttachedFiles.isUnderWay(f)) {
                    all.add(new FileView(
                            folder.relativize(f).toString(),
                            a.size(),
                            a.lastModifiedTime().toInstant()));
                }
                return all.size() < MAX_LOOKED_AT ? FileVisitResult.CONTINUE : FileVisitResult.TERMINATE;
            }

            @Override
            public FileVisitResult visitFileFailed(java.nio.file.Path f, IOException gone) {
                return FileVisitResult.CONTINUE;
            }
        });
        all.sort(Comparator.comparing(FileView::changedAt).reversed());
        return new FilesView(
                List.copyOf(all.subList(0, Math.min(MAX_LISTED, all.size()))), Math.max(0, all.size() - MAX_LISTED));
    }

    @GET
    @Path("{name: .+}")
    @jakarta.ws.rs.Produces(MediaType.APPLICATION_OCTET_STREAM)
    public Response take(@PathParam("name") String name) {
        java.nio.file.Path file;
        try {
            file = files.find(name).path();
        } catch (AttachedFiles.NoFile e) {
            throw Wrong.notFound("file", name);
        }
        String shown = file.getFileName().toString().replaceAll("[^A-Za-z0-9._ -]", "_");
        return Response.ok(file.toFile(), MediaType.APPLICATION_OCTET_STREAM)
                .header("Content-Disposition", "attachment; filename=\"" + shown + "\"")
                .build();
    }

    /** Keeps a file; one of that name is replaced. Nothing is left of one that did not arrive whole. */
    @PUT
    @Path("{name: .+}")
    @Consumes(MediaType.APPLICATION_OCTET_STREAM)
    @Allow(Role.BUILDER)
    public void put(@PathParam("name") String name, InputStream body) throws IOException {
        java.nio.file.Path to = at(name);
        if ((name + "/").startsWith(AttachedFiles.RECEIVED + "/")) {
            throw Wrong.input("file.name", "Under received/ is what came with answers; choose another name.");
        }
        java.nio.file.Path folder = to.getParent();
        if (!Files.isDirectory(folder)) {
            try {
                PrivateFiles.folder(folder);
            } catch (IOException e) {
                throw Wrong.input("file.name", "There is a file already where this one's folder would be.");
            }
        }
        if (!folder.toRealPath().startsWith(home.files().toRealPath()) || Files.isDirectory(to)) {
            throw Wrong.input("file.name", "There is a folder of that name, or it leads out of the folder of files.");
        }
        try {
            files.put(body, to);
        } catch (AttachedFiles.TooLarge e) {
            throw Wrong.input("file.large", "The file is too large: " + e.getMessage() + ".");
        }
    }

    @DELETE
    @Path("{name: .+}")
    @Allow(Role.BUILDER)
    public void delete(@PathParam("name") String name) throws IOException {
        try {
            Files.delete(files.find(name).path());
        } catch (AttachedFiles.NoFile e) {
            throw Wrong.notFound("file", name);
        }
    }

    private java.nio.file.Path at(String name) {
        try {
            return files.at(name);
        } catch (AttachedFiles.NoFile e) {
            throw Wrong.input("file.name", e.getMessage() + ".");
        }
    }
}
