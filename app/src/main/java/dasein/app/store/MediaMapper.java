package dasein.app.store;

import java.util.List;
import org.apache.ibatis.annotations.Delete;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Select;
import org.apache.ibatis.annotations.Update;

@Mapper
public interface MediaMapper {
    @Insert("insert into media (hash, name, kind, bytes) values (#{hash}, #{name}, #{kind}, #{bytes}) on "
            + "conflict do nothing")
    void insert(Media m);

    @Select("select hash, name, kind, bytes from media where hash = #{hash}")
    Media find(String hash);

    @Insert("insert into shelf (hash, kind, name, facts) values (#{hash}, #{kind}, #{name}, cast(#{facts} "
            + "as jsonb)) on conflict do nothing")
    void shelve(ShelfItem item);

    @Select("select hash, kind, name, facts::text as facts from shelf where kind = #{kind} order by created")
    List<ShelfItem> shelf(String kind);

    @Select("select hash, kind, name, facts::text as facts from shelf where hash = #{hash}")
    ShelfItem item(String hash);

    @Delete("delete from shelf where hash = #{hash}")
    void unshelve(String hash);

    @Update("update shelf set facts = cast(#{facts} as jsonb) where hash = #{hash}")
    void factsOf(String hash, String facts);

    /**
     * @param facts JSON: for models height, clips with seconds, triangles; for environments level, sun, how they were
     *     made
     */
    record ShelfItem(String hash, String kind, String name, String facts) {}
}
