<?php

declare(strict_types=1);

/*
 * One metadata document of many types, read and, with BENCH_SHOW, kept and shown. Prints JSON.
 */

use App\Models\Environment;
use App\Models\OpenSession;
use App\Models\Role;
use App\Models\Service;
use App\Models\Source;
use App\Models\User;
use App\OData\ServiceModels;
use App\Sources\SourceStore;
use DeepSpring\OData\Csdl\Metadata;
use DeepSpring\SourceFile\SourceFile;
use Illuminate\Contracts\Console\Kernel;
use Illuminate\Contracts\Http\Kernel as HttpKernel;
use Illuminate\Http\Request;
use Illuminate\Support\Facades\Auth;
use Illuminate\Support\Facades\Session;

require __DIR__.'/../vendor/autoload.php';

$write = static function (string $file): int {
    $handle = fopen($file, 'w') ?: exit(1);
    fwrite($handle, '<edmx:Edmx Version="4.01" xmlns:edmx="http://docs.oasis-open.org/odata/ns/edmx"><edmx:DataServices><Schema Namespace="Saltmarsh.Large" Alias="L" xmlns="http://docs.oasis-open.org/odata/ns/edm">');
    $types = (int) (getenv('BENCH_TYPES') ?: PHP_INT_MAX);
    $bytes = (int) (getenv('BENCH_BYTES') ?: PHP_INT_MAX);
    $sets = '';
    for ($number = 1, $written = 0; $number <= $types && $written + strlen($sets) < $bytes; $number++) {
        $properties = '';
        foreach (range(1, 24) as $place) {
            $properties .= '<Property Name="Measure'.$place.'" Type="Edm.'.['String', 'Decimal', 'DateTimeOffset', 'Int32'][$place % 4].'"'.($place % 4 === 1 ? ' Precision="12" Scale="2"' : '').'><Annotation Term="Org.OData.Core.V1.Description" String="Measure '.$place.' of shelf '.$number.', as it was taken"/></Property>';
        }
        $written += (int) fwrite($handle, "<EntityType Name=\"Shelf$number\"><Key><PropertyRef Name=\"ID\"/></Key><Property Name=\"ID\" Type=\"Edm.Int32\" Nullable=\"false\"/>$properties<NavigationProperty Name=\"Next\" Type=\"L.Shelf".($number % 100 + 1).'"/></EntityType>');
        $sets .= "<EntitySet Name=\"Shelves$number\" EntityType=\"L.Shelf$number\"/>";
    }
    fwrite($handle, "<EntityContainer Name=\"C\">$sets</EntityContainer></Schema></edmx:DataServices></edmx:Edmx>");
    fclose($handle);

    return $number - 1;
};
$file = tempnam(sys_get_temp_dir(), 'csdl');
$types = $write($file);
unset($write);
memory_reset_peak_usage();
$from = microtime(true);
$document = (string) file_get_contents($file);
$bytes = strlen($document);
$collected = Metadata::read($document);
unset($document);
$model = Metadata::model($collected);
$result = ['types' => count($model->facts['types']), 'bytes' => $bytes, 'read' => microtime(true) - $from, 'memory' => memory_get_peak_usage()];
unlink($file);
if (getenv('BENCH_SHOW') !== false) {
    $app = require __DIR__.'/../bootstrap/app.php';
    $app->make(Kernel::class)->bootstrap();
    $source = app(SourceStore::class)->draft(SourceFile::of(['deepspring' => 1, 'source' => ['slug' => 'large', 'name' => 'Large', 'kind' => 'odata', 'environments' => ['production' => ['base' => 'http://127.0.0.1:9/large']]]]), null);
    app(ServiceModels::class)->keep(Source::query()->findOrFail($source->id), Environment::named('production') ?? throw new LogicException('No environment.'), $model, $bytes, str_repeat('0', 32), []);
    $person = User::query()->updateOrCreate(['email' => 'bench@saltmarsh.example'], ['name' => 'Bench', 'password' => bin2hex(random_bytes(9)), 'role' => Role::Builder, 'environment_id' => Environment::query()->where('slug', 'production')->value('id')]);
    $mark = bin2hex(random_bytes(20));
    OpenSession::query()->create(['user_id' => $person->id, 'mark' => hash('sha256', $mark), 'agent' => 'bench', 'ip' => '127.0.0.1', 'begun_at' => now(), 'seen_at' => now()]);
    foreach (['list' => '/sources/large/service', 'search' => '/sources/large/service?q=shelves19&sort=label', 'set' => '/sources/large/service/Shelves1500'] as $what => $path) {
        $times = [];
        foreach (range(1, 3) as $ignored) {
            Auth::setUser($person);
            Session::put('open_session', $mark);
            $from = microtime(true);
            $response = $app->make(HttpKernel::class)->handle(Request::create($path));
            $times[] = microtime(true) - $from;
            if ($response->getStatusCode() !== 200 || ! str_contains((string) $response->getContent(), 'Shelves')) {
                throw new RuntimeException("$path: {$response->getStatusCode()}");
            }
        }
        sort($times);
        $result[$what] = $times[1];
    }
    Service::query()->where('source_id', $source->id)->delete();
    Source::query()->whereKey($source->id)->delete();
}
echo json_encode($result + ['made' => $types]);
